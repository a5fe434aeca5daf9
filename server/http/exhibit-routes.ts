import { EXHIBIT_QUESTIONS, promptMembers, scopeLabels, stillPossible } from '@bold-compass/core/answers';
import {
  membersRequestSchema,
  membersResponseSchema,
  possibleRequestSchema,
  possibleResponseSchema,
  scopeLabelsRequestSchema,
  scopeLabelsSchema,
  sectionsRequestSchema,
  sectionsResponseSchema,
  valuesRequestSchema,
  valuesResponseSchema,
} from '@bold-compass/core/api';
import { findField, readerScopeSchema } from '@bold-compass/core/model';
import { z } from 'zod';
import type { ReportReader } from '../reports/index.ts';
import { ApiError } from '../problems/index.ts';
import { route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });
const exhibitParams = z.object({ report: z.string(), exhibit: z.string() });
/** What every question says of the state of the report that it is about. */
const stateSchema = z.object({ ...readerScopeSchema.shape, draft: z.boolean() });

/** What reports show: the figures of their exhibits, titles and prompts. */
export function exhibitRoutes(reports: ReportReader): Route[] {
  return [
    route({
      method: 'post',
      path: '/reports/:report/values',
      summary: 'The values that titles and texts of a report show',
      open: 'person',
      writes: false,
      params: reportParams,
      body: valuesRequestSchema,
      answer: valuesResponseSchema,
      async handle({ params, body, caller, signal }) {
        const { report, reader } = await reports.asked(caller, params.report, body);
        return reports.values(caller, reader, body.measures, reports.conditions(report, reader, body), signal);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/members',
      summary: 'What a prompt offers under the rest of the scope, with counts',
      open: 'person',
      writes: false,
      params: reportParams,
      body: membersRequestSchema,
      answer: membersResponseSchema,
      async handle({ params, body, caller }) {
        const { report, reader: own } = await reports.asked(caller, params.report, body);
        const other = body.dataset === undefined ? undefined : (await reports.otherDatasets(report))[body.dataset];
        const reader = other ? await reports.reader(caller, other.name) : own;
        if (!findField(reader.dataset, body.field))
          throw new ApiError('scope-unknown', `This report does not know "${body.field}".`, { field: body.field });
        return promptMembers(reports.context(reader, caller), report, body, body);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/scope-labels',
      summary: 'The words for chosen members',
      open: 'person',
      writes: false,
      params: reportParams,
      body: scopeLabelsRequestSchema,
      answer: scopeLabelsSchema,
      async handle({ params, body, caller }) {
        const { reader } = await reports.asked(caller, params.report, body);
        return scopeLabels(reports.context(reader, caller), body.scope);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/possible',
      summary: 'The choices that are left after one of them changed, and those that it made impossible',
      open: 'person',
      writes: false,
      params: reportParams,
      body: possibleRequestSchema,
      answer: possibleResponseSchema,
      async handle({ params, body, caller }) {
        const { report, reader } = await reports.asked(caller, params.report, body);
        return stillPossible(reports.context(reader, caller), report, body, body.changed);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/sections',
      summary: 'The sections that a page or an exhibit is repeated in, each with its figure',
      open: 'person',
      writes: false,
      params: reportParams,
      body: sectionsRequestSchema,
      answer: sectionsResponseSchema,
      handle: ({ params, body: { page, exhibit, ...asked }, caller, signal }) =>
        reports.sections(caller, params.report, asked, { page, exhibit }, signal),
    }),
    ...EXHIBIT_QUESTIONS.map((question) =>
      route({
        method: 'post',
        path: `/reports/:report/exhibits/:exhibit/${question.path}`,
        summary: question.summary,
        open: question.composing ? ['analyst'] : 'person',
        writes: false,
        params: exhibitParams,
        body: question.request,
        answer: question.response,
        async handle({ params, body, caller, signal }) {
          const opened = await reports.exhibit(caller, params, stateSchema.parse(body), question.kinds);
          return reports.answer(caller, question, opened, body, signal);
        },
      }),
    ),
  ];
}
