import { audienceSchema, comparedSchema, editionDocumentSchema, editionSchema, publishSchema } from '@bold-compass/core/api';
import type { Audience } from '@bold-compass/core/api';
import type { Report } from '@bold-compass/core/model';
import { reportChanges } from '@bold-compass/core/changes';
import { z } from 'zod';
import type { Caller } from '../people/index.ts';
import type { Library, ReportReader } from '../reports/index.ts';
import { noBody, route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });
const editionParams = z.object({ report: z.string(), edition: z.coerce.number().int().min(1).max(2_147_483_647) });

/** Editions of reports: published, listed, compared. */
export function editionRoutes(
  library: Library,
  reports: ReportReader,
  audience: (caller: Caller, report: Report) => Promise<Audience>,
): Route[] {
  return [
    route({
      method: 'post',
      path: '/reports/:report/publish',
      summary: 'Make a numbered edition of the draft',
      open: ['analyst'],
      params: reportParams,
      body: publishSchema,
      answer: z.object({ edition: z.number() }),
      handle: async ({ params, body, caller }) => ({ edition: await library.publish(caller, params.report, body) }),
    }),
    route({
      method: 'get',
      path: '/reports/:report/audience',
      summary: 'Who would see what of the datasets that the draft stands on',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: audienceSchema,
      handle: async ({ params, caller }) => audience(caller, (await library.open(caller, params.report, true)).report),
    }),
    route({
      method: 'get',
      path: '/reports/:report/editions',
      summary: 'The editions of a report, the newest first',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: z.array(editionSchema),
      handle: ({ params, caller }) => library.editions(caller, params.report),
    }),
    route({
      method: 'get',
      path: '/reports/:report/editions/:edition',
      summary: "An edition's document",
      open: ['analyst'],
      params: editionParams,
      body: noBody,
      answer: editionDocumentSchema,
      handle: async ({ params, caller }) => ({ report: await library.edition(caller, params.report, params.edition) }),
    }),
    route({
      method: 'get',
      path: '/reports/:report/editions/:edition/changes',
      summary: 'What changed from an edition to another, or to the draft, in plain words',
      open: ['analyst'],
      params: editionParams,
      body: noBody,
      answer: comparedSchema,
      async handle({ params, caller, request }) {
        const before = await library.edition(caller, params.report, params.edition);
        const to = Number(request.query.to);
        const after =
          Number.isInteger(to) && to > 0
            ? await library.edition(caller, params.report, to)
            : (await library.open(caller, params.report, true)).report;
        const known = { ...(await reports.datasets(before)), ...(await reports.datasets(after)) };
        return { changes: reportChanges(before, after, (name) => known[name]) };
      },
    }),
  ];
}
