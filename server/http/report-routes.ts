import { randomUUID } from 'node:crypto';
import {
  controlTotalSchema,
  favouriteSchema,
  savedViewSchema,
  saveViewSchema,
  madeReportSchema,
  reportChangesSchema,
  reportDocumentSchema,
  newReportSchema,
  reportSummarySchema,
  reportViewSchema,
  savedSchema,
  saveReportSchema,
  thumbnailSchema,
} from '@bold-compass/core/api';
import { applyPatch } from 'rfc6902';
import { conditionsInWords } from '@bold-compass/core/answers';
import { nameFor, startingReport } from '@bold-compass/core/modelling';
import { z } from 'zod';
import type { ControlTotals } from '../control-totals/index.ts';
import type { Assets } from '../assets/index.ts';
import {
  canCompose,
  datasetsIn,
  validReport,
  staleReport,
  type Library,
  type ReportReader,
  type SavedViews,
  type Thumbnails,
} from '../reports/index.ts';
import type { Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const reportParams = z.object({ report: z.string() });

/** An id for addresses, made of a title and a part that no other report has. */
function freshId(title: string): string {
  const words = nameFor(title, new Set()).replaceAll('_', '-').slice(0, 40).replace(/-+$/, '');
  return `${words}-${randomUUID().slice(0, 8)}`;
}

/** Makes changes in a document; false where one of them does not fit it. */
function fits(document: object, changes: Parameters<typeof applyPatch>[1]): boolean {
  try {
    return applyPatch(document, changes).every((failure) => failure === null);
  } catch {
    // A part of its way is no object.
    return false;
  }
}

/** Reports as documents: opened, made, saved, copied, put away. */
export function reportRoutes(
  library: Library,
  reports: ReportReader,
  assets: Assets,
  thumbnails: Thumbnails,
  controls: ControlTotals,
  views: SavedViews,
): Route[] {
  /** Saves a document as the draft of a report, from the revision that it started from. */
  async function save(caller: Caller, id: string, document: unknown, revision: number): Promise<{ revision: number }> {
    const stored = await library.open(caller, id, true);
    const report = validReport(document);
    if (report.id !== id) throw new ApiError('report-invalid', `The document is of the report "${report.id}", not of "${id}".`);
    if (report.dataset !== stored.report.dataset)
      throw new ApiError('report-invalid', 'A report stays with its dataset. Make a new report for another one.');
    await reports.checkSound(caller, report);
    return { revision: await library.save(id, await assets.kept(report), revision) };
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
        const { stored, reader, dataset } = await reports.report(caller, params.report, request.query.draft === 'true');
        if (caller.seenBy === undefined) void library.opened(caller, params.report).catch(() => undefined);
        const report = await reports.documentFor(caller, stored.report, reader);
        const datasets = await reports.otherDatasets(stored.report);
        return {
          report,
          dataset,
          datasets,
          gone: datasetsIn(stored.report).filter((name) => name !== dataset.name && !datasets[name]),
          edition: stored.edition,
          publishedAt: stored.publishedAt?.toISOString() ?? null,
          revision: stored.revision,
          canCompose: canCompose(caller),
          views: await views.of(caller, params.report),
          start: await reports.start(caller, report, reader),
          ...(await reports.span(reader)),
          access: (await conditionsInWords(reports.context(reader, caller), reader.restriction)).join('; '),
        };
      },
    }),
    route({
      method: 'get',
      path: '/reports/:report/control-totals',
      summary: 'The control totals of the measures that a report shows which do not tie out',
      open: 'person',
      params: reportParams,
      body: noBody,
      answer: z.array(controlTotalSchema),
      async handle({ params, caller, request }) {
        const { stored } = await reports.report(caller, params.report, request.query.draft === 'true');
        return controls.untiedIn(caller, stored.report);
      },
    }),
    route({
      method: 'get',
      path: '/reports/:report/thumbnail',
      summary: 'The first page of a report made small, as the caller sees it',
      open: 'person',
      params: reportParams,
      body: noBody,
      answer: thumbnailSchema,
      handle: ({ params, caller }) => thumbnails.of(caller, params.report),
    }),
    route({
      method: 'put',
      path: '/reports/:report',
      summary: "Save a report's draft, from the revision it started from",
      open: ['analyst'],
      params: reportParams,
      body: z.object({ report: z.unknown(), revision: saveReportSchema.shape.revision }),
      answer: savedSchema,
      handle: ({ params, body, caller }) => save(caller, params.report, body.report, body.revision),
    }),
    route({
      method: 'patch',
      path: '/reports/:report',
      summary: "Save what changed in a report's draft since a revision, as JSON Patch (RFC 6902)",
      open: ['analyst'],
      params: reportParams,
      body: reportChangesSchema,
      answer: savedSchema,
      async handle({ params, body, caller }) {
        const stored = await library.open(caller, params.report, true);
        if (stored.revision !== body.revision) throw staleReport();
        const document = structuredClone(stored.report);
        // A change without a value sets none, as JSON leaves it out.
        const changes = body.changes.map((one) => (one.op === 'remove' ? one : { ...one, value: one.value ?? null }));
        if (!fits(document, changes))
          throw new ApiError('changes-unfit', 'These changes do not fit the draft. Reload the report and make them again.');
        return save(caller, params.report, document, body.revision);
      },
    }),
    route({
      method: 'get',
      path: '/reports/:report/document',
      summary: 'The draft as a document that holds its pictures and shapes itself, to be kept or imported elsewhere',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: reportDocumentSchema,
      handle: async ({ params, caller }) => ({ report: await assets.whole((await library.open(caller, params.report, true)).report) }),
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
        await reports.requireSight(caller, body.dataset);
        const dataset = await reports.definition(body.dataset);
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
        await reports.checkSound(caller, report);
        const id = freshId(report.title);
        await library.create({ ...(await assets.kept(report)), id }, caller.person.id);
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
      async handle({ params, caller }) {
        await library.moveToBin(caller, params.report);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/reports/:report/restore',
      summary: 'Restore a report from the bin',
      open: ['analyst'],
      params: reportParams,
      body: noBody,
      answer: z.object({}),
      async handle({ params, caller }) {
        await library.restore(caller, params.report);
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
      method: 'put',
      path: '/reports/:report/views',
      summary: 'Keep choices in a report under a name',
      open: 'person',
      params: reportParams,
      body: saveViewSchema,
      answer: z.array(savedViewSchema),
      handle: ({ params, body, caller }) => views.save(caller, params.report, body),
    }),
    route({
      method: 'delete',
      path: '/reports/:report/views/:view',
      summary: 'Keep a view no longer',
      open: 'person',
      params: z.object({ report: z.string(), view: z.string() }),
      body: noBody,
      answer: z.array(savedViewSchema),
      handle: ({ params, caller }) => views.remove(caller, params.report, params.view),
    }),
  ];
}
