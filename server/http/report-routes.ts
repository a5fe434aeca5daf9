import { randomUUID } from 'node:crypto';
import {
  comparedSchema,
  crosstabRequestSchema,
  crosstabResponseSchema,
  editionDocumentSchema,
  editionSchema,
  explainRequestSchema,
  explanationSchema,
  favouriteSchema,
  kpiRequestSchema,
  kpiResponseSchema,
  listRequestSchema,
  listResponseSchema,
  madeReportSchema,
  membersRequestSchema,
  membersResponseSchema,
  newReportSchema,
  publishSchema,
  reportSummarySchema,
  reportViewSchema,
  savedSchema,
  saveReportSchema,
  valuesRequestSchema,
  valuesResponseSchema,
} from '@bold-compass/core/api';
import { isoDate } from '@bold-compass/core/calendar';
import { reportChanges } from '@bold-compass/core/changes';
import { withAggregations } from '@bold-compass/core/crosstab';
import { conditionWords } from '@bold-compass/core/format';
import {
  findField,
  findMeasure,
  isDataExhibit,
  type Crosstab,
  type DataExhibit,
  type Dataset,
  type Report,
  type Scope,
} from '@bold-compass/core/model';
import { nameFor, startingReport } from '@bold-compass/core/modelling';
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
  measuresUnder,
  promptMembers,
  reportFaults,
  scopeFilter,
  scopeIn,
  validReport,
  type Library,
} from '../reports/index.ts';
import { ApiError } from './problems.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });
const editionParams = z.object({ report: z.string(), edition: z.coerce.number().int().min(1) });
const exhibitParams = z.object({ report: z.string(), exhibit: z.string() });

/** An id for addresses, made of a title and a part that no other report has. */
function freshId(title: string): string {
  const words = nameFor(title, new Set()).replaceAll('_', '-').slice(0, 40).replace(/-+$/, '');
  return `${words}-${randomUUID().slice(0, 8)}`;
}

function exhibitOf<Kind extends DataExhibit['kind']>(report: Report, id: string, kind: Kind): Extract<DataExhibit, { kind: Kind }> {
  const found = report.exhibits.find((exhibit) => exhibit.id === id && exhibit.kind === kind);
  if (!found)
    throw new ApiError('exhibit-not-found', 'This report has no such exhibit any more. Reload the page to see the newest edition.');
  return found as Extract<DataExhibit, { kind: Kind }>;
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

  /** An exhibit, with the data it answers from and the part of the scope that this data knows. */
  async function openExhibit<Kind extends DataExhibit['kind']>(
    caller: Caller,
    params: z.infer<typeof exhibitParams>,
    body: { draft: boolean; scope: Scope },
    kind: Kind,
  ): Promise<{ exhibit: Extract<DataExhibit, { kind: Kind }>; desk: Desk; scope: Scope }> {
    const { report, desk } = await openReport(caller, params.report, body.draft, body.scope);
    const exhibit = exhibitOf(report, params.exhibit, kind);
    if (!exhibit.dataset || exhibit.dataset === report.dataset) return { exhibit, desk, scope: body.scope };
    const own = new Desk(await catalogue.open(exhibit.dataset), caller.rules, memory);
    return { exhibit, desk: own, scope: scopeIn(own.dataset, body.scope) };
  }

  /** A cross-tab, with the measures that it counts in ways of its own. */
  async function openCrosstab(
    caller: Caller,
    params: z.infer<typeof exhibitParams>,
    body: { draft: boolean; scope: Scope },
  ): Promise<{ exhibit: Crosstab; desk: Desk; scope: Scope }> {
    const { exhibit, desk, scope } = await openExhibit(caller, params, body, 'crosstab');
    const own = withAggregations(desk.dataset, exhibit);
    return own.dataset === desk.dataset
      ? { exhibit, desk, scope }
      : {
          exhibit: own.exhibit,
          desk: new Desk({ ...(await catalogue.open(desk.dataset.name)), dataset: own.dataset }, caller.rules, memory),
          scope,
        };
  }

  /** The datasets that exhibits of a report answer from beside its own. */
  async function otherDatasets(report: Report): Promise<Record<string, Dataset>> {
    const names = new Set(report.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])));
    names.delete(report.dataset);
    return Object.fromEntries(await Promise.all([...names].map(async (name) => [name, (await catalogue.open(name)).dataset] as const)));
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
        if (request.query.glance === undefined) void library.opened(caller, params.report).catch(() => undefined);
        const desk = new Desk(await catalogue.open(stored.report.dataset), caller.rules, memory);
        const { first, days } = desk.calendar;
        return {
          report: stored.report,
          dataset: desk.dataset,
          datasets: await otherDatasets(stored.report),
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
        const own = (await catalogue.open(report.dataset)).dataset;
        const others = await otherDatasets(report);
        const [fault] = reportFaults(report, (name) => others[name] ?? own);
        if (fault) throw new ApiError('report-invalid', fault);
        return { revision: await library.save(params.report, report, body.revision) };
      },
    }),
    route({
      method: 'post',
      path: '/reports',
      summary: 'Make a report from a starting layout',
      open: ['analyst'],
      params: noParams,
      body: newReportSchema,
      answer: madeReportSchema,
      async handle({ body, caller }) {
        const { dataset } = await catalogue.open(body.dataset);
        const id = freshId(body.title);
        await library.create(startingReport(id, body.title, body.folder, dataset, body.layout), caller.person.id);
        return { id };
      },
    }),
    route({
      method: 'post',
      path: '/reports/import',
      summary: 'Make a report of a document',
      open: ['analyst'],
      params: noParams,
      body: z.object({ report: z.unknown() }),
      answer: madeReportSchema,
      async handle({ body, caller }) {
        const report = validReport(body.report);
        const own = (await catalogue.open(report.dataset)).dataset;
        const others = await otherDatasets(report);
        const [fault] = reportFaults(report, (name) => others[name] ?? own);
        if (fault) throw new ApiError('report-invalid', fault);
        const id = freshId(report.title);
        await library.create({ ...report, id }, caller.person.id);
        return { id };
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/copy',
      summary: 'Make a copy of a report as it stands in its draft',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: madeReportSchema,
      async handle({ params, caller }) {
        const { report } = await library.open(caller, params.report, true);
        const id = freshId(report.title);
        await library.create({ ...report, id, title: `Copy of ${report.title}` }, caller.person.id);
        return { id };
      },
    }),
    route({
      method: 'delete',
      path: '/reports/:report',
      summary: 'Put a report away; it can be brought back',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: z.object({}),
      async handle({ params }) {
        await library.putAway(params.report);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/bring-back',
      summary: 'Bring a report back that was put away',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: z.object({}),
      async handle({ params }) {
        await library.bringBack(params.report);
        return {};
      },
    }),
    route({
      method: 'put',
      path: '/reports/:report/favourite',
      summary: 'Keep a report among the favourites, or no longer',
      open: 'person',
      params: reportParams,
      body: favouriteSchema,
      answer: z.object({}),
      async handle({ params, body, caller }) {
        await library.setFavourite(caller, params.report, body.favourite);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/publish',
      summary: 'Make a numbered edition of the draft',
      open: ['analyst'],
      params: reportParams,
      body: publishSchema,
      answer: z.object({ edition: z.number() }),
      handle: async ({ params, body, caller }) => ({ edition: await library.publish(caller, params.report, body.note, body.revision) }),
    }),
    route({
      method: 'get',
      path: '/reports/:report/editions',
      summary: 'The editions of a report, the newest first',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: z.array(editionSchema),
      handle: ({ params }) => library.editions(params.report),
    }),
    route({
      method: 'get',
      path: '/reports/:report/editions/:edition',
      summary: "An edition's document",
      open: ['analyst'],
      params: editionParams,
      body: noBody,
      answer: editionDocumentSchema,
      handle: async ({ params }) => ({ report: await library.edition(params.report, params.edition) }),
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
        const before = await library.edition(params.report, params.edition);
        const to = Number(request.query.to);
        const after =
          Number.isInteger(to) && to > 0
            ? await library.edition(params.report, to)
            : (await library.open(caller, params.report, true)).report;
        const known = new Map<string, Dataset>();
        for (const report of [before, after]) {
          for (const [name, dataset] of Object.entries(await otherDatasets(report))) known.set(name, dataset);
          known.set(report.dataset, (await catalogue.open(report.dataset)).dataset);
        }
        return { changes: reportChanges(before, after, (name) => known.get(name)) };
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/values',
      summary: 'The values that titles and texts of a report show',
      open: 'person',
      params: reportParams,
      body: valuesRequestSchema,
      answer: valuesResponseSchema,
      async handle({ params, body, caller }) {
        const { desk } = await openReport(caller, params.report, body.draft, body.scope);
        const known = body.measures.filter((name) => findMeasure(desk.dataset, name));
        if (known.length === 0) return {};
        const values = await measuresUnder(desk, known, scopeFilter(body.scope));
        return Object.fromEntries(
          [...values].map(([name, { value, reason }]) => [name, { value: Number.isNaN(value) ? null : value, reason }]),
        );
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
        const { report, desk: first } = await openReport(caller, params.report, body.draft, body.scope);
        const other = body.dataset === undefined ? undefined : (await otherDatasets(report))[body.dataset];
        const desk = other ? new Desk(await catalogue.open(other.name), caller.rules, memory) : first;
        if (!findField(desk.dataset, body.field))
          throw new ApiError('scope-unknown', `This report does not know "${body.field}".`, { field: body.field });
        return promptMembers(desk, report, scopeIn(desk.dataset, body.scope), body.field);
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
        const { exhibit, desk, scope } = await openExhibit(caller, params, body, 'kpis');
        return kpiValues(desk, exhibit, scopeFilter(scope));
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
        const { exhibit, desk, scope } = await openCrosstab(caller, params, body);
        return crosstabWindow(desk, cubes, exhibit, scopeFilter(scope), body);
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
        const { exhibit, desk, scope } = await openCrosstab(caller, params, body);
        if (body.side.length > exhibit.side.fields.length || body.top.length > exhibit.top.fields.length) {
          throw new ApiError('bad-request', 'The chosen cell is not in this cross-tab. Choose another one.');
        }
        return explainCell(desk, cubes, exhibit, scope, scopeFilter(scope), body);
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
        const { exhibit: list, desk, scope } = await openExhibit(caller, params, body, 'list');
        const known = new Set([...list.columns.flatMap(({ field }) => field ?? []), ...list.groups.map(({ field }) => field)]);
        const order = body.order.length > 0 ? body.order.filter((one) => known.has(one.field)) : list.order;
        return listPage(desk, list, scopeFilter(scope), { ...body, order });
      },
    }),
  ];
}
