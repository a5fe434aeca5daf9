import {
  crosstabRequestSchema,
  crosstabResponseSchema,
  explainRequestSchema,
  explanationSchema,
  kpiRequestSchema,
  kpiResponseSchema,
  listRequestSchema,
  listResponseSchema,
  membersRequestSchema,
  membersResponseSchema,
  reportSummarySchema,
  reportViewSchema,
  savedSchema,
  saveReportSchema,
} from '@bold-compass/core/api';
import { isoDate } from '@bold-compass/core/calendar';
import { conditionWords } from '@bold-compass/core/format';
import { findField, type Exhibit, type Report, type Scope } from '@bold-compass/core/model';
import { z } from 'zod';
import { createDeskMemory, Desk, type Catalogue } from '../data/index.ts';
import type { Caller } from '../people/index.ts';
import {
  canCompose,
  checkScope,
  createCubeCache,
  crosstabWindow,
  explainCell,
  kpiValues,
  listPage,
  promptMembers,
  scopeFilter,
  validReport,
  type Library,
} from '../reports/index.ts';
import { ApiError } from './problems.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });
const exhibitParams = z.object({ report: z.string(), exhibit: z.string() });

function exhibitOf<Kind extends Exhibit['kind']>(report: Report, id: string, kind: Kind): Extract<Exhibit, { kind: Kind }> {
  const found = report.exhibits.find((exhibit) => exhibit.id === id && exhibit.kind === kind);
  if (!found)
    throw new ApiError('exhibit-not-found', 'This report has no such exhibit any more. Reload the page to see the newest edition.');
  return found as Extract<Exhibit, { kind: Kind }>;
}

export function reportRoutes(library: Library, catalogue: Catalogue): Route[] {
  const memory = createDeskMemory();
  const cubes = createCubeCache();

  /** What every question about a report starts with: the document, and the data as the caller may see it. */
  async function openReport(caller: Caller, id: string, draft: boolean, scope: Scope): Promise<{ report: Report; desk: Desk }> {
    const { report } = await library.open(caller, id, draft);
    const desk = new Desk(await catalogue.open(report.dataset), caller.rules, memory);
    await checkScope(desk, scope);
    return { report, desk };
  }

  return [
    route({
      method: 'get',
      path: '/reports',
      summary: 'The reports the caller may open',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: z.array(reportSummarySchema),
      handle: ({ caller }) => library.list(caller),
    }),
    route({
      method: 'get',
      path: '/reports/:report',
      summary: 'A report as a document, with its dataset',
      open: 'person',
      params: reportParams,
      body: noBody,
      answer: reportViewSchema,
      async handle({ params, caller, request }) {
        const stored = await library.open(caller, params.report, request.query.draft === 'true');
        const desk = new Desk(await catalogue.open(stored.report.dataset), caller.rules, memory);
        const { first, days } = desk.calendar;
        return {
          report: stored.report,
          dataset: desk.dataset,
          edition: stored.edition,
          publishedAt: stored.publishedAt?.toISOString() ?? null,
          revision: stored.revision,
          canCompose: canCompose(caller),
          dataFrom: isoDate(first),
          dataTo: isoDate(first + Math.max(days - 1, 0)),
          access: conditionWords(desk.dataset, desk.restriction, desk.label).join('; '),
        };
      },
    }),
    route({
      method: 'put',
      path: '/reports/:report',
      summary: "Save a report's draft, from the revision it started from",
      open: ['analyst'],
      params: reportParams,
      body: z.object({ report: z.unknown(), revision: saveReportSchema.shape.revision }),
      answer: savedSchema,
      async handle({ params, body, caller }) {
        const report = validReport(body.report);
        if (report.id !== params.report)
          throw new ApiError('report-invalid', `The document is of the report "${report.id}", not of "${params.report}".`);
        const stored = await library.open(caller, params.report, true);
        if (report.dataset !== stored.report.dataset)
          throw new ApiError('report-invalid', 'A report stays with its dataset. Make a new report for another one.');
        const { dataset } = await catalogue.open(report.dataset);
        const unknown = report.exhibits
          .flatMap((exhibit) => (exhibit.kind === 'crosstab' ? [...exhibit.side.fields, ...exhibit.top.fields] : []))
          .find((field) => !findField(dataset, field));
        if (unknown) throw new ApiError('report-invalid', `There is no field called "${unknown}" in ${dataset.label}.`);
        return { revision: await library.save(params.report, report, body.revision) };
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/members',
      summary: 'What a prompt offers under the rest of the scope, with counts',
      open: 'person',
      params: reportParams,
      body: membersRequestSchema,
      answer: membersResponseSchema,
      async handle({ params, body, caller }) {
        const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
        if (!findField(desk.dataset, body.field))
          throw new ApiError('scope-unknown', `This report does not know "${body.field}".`, { field: body.field });
        return promptMembers(desk, report, body.scope, body.field);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/kpis',
      summary: 'The figures and states of a KPI strip',
      open: 'person',
      params: exhibitParams,
      body: kpiRequestSchema,
      answer: kpiResponseSchema,
      async handle({ params, body, caller }) {
        const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
        return kpiValues(desk, exhibitOf(report, params.exhibit, 'kpis'), scopeFilter(body.scope));
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/crosstab',
      summary: 'A window of cells of a cross-tab, as opened and ordered',
      open: 'person',
      params: exhibitParams,
      body: crosstabRequestSchema,
      answer: crosstabResponseSchema,
      async handle({ params, body, caller }) {
        const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
        return crosstabWindow(desk, cubes, exhibitOf(report, params.exhibit, 'crosstab'), scopeFilter(body.scope), body);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/explain',
      summary: 'Why a cell shows its number',
      open: 'person',
      params: exhibitParams,
      body: explainRequestSchema,
      answer: explanationSchema,
      async handle({ params, body, caller }) {
        const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
        const exhibit = exhibitOf(report, params.exhibit, 'crosstab');
        if (body.side.length > exhibit.side.fields.length || body.top.length > exhibit.top.fields.length) {
          throw new ApiError('bad-request', 'The chosen cell is not in this cross-tab. Choose another one.');
        }
        return explainCell(desk, exhibit, body.scope, scopeFilter(body.scope), body);
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/exhibits/:exhibit/list',
      summary: 'A page of a list, with its totals',
      open: 'person',
      params: exhibitParams,
      body: listRequestSchema,
      answer: listResponseSchema,
      async handle({ params, body, caller }) {
        const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
        const list = exhibitOf(report, params.exhibit, 'list');
        const known = new Set(list.columns.map((column) => column.field));
        const order = body.order.length > 0 ? body.order.filter((one) => known.has(one.field)) : list.order;
        return listPage(desk, list, scopeFilter(body.scope), { ...body, order });
      },
    }),
  ];
}
