import { keptAssetSchema, newAssetSchema } from '@bold-compass/core/api';
import { inStep } from '@bold-compass/core/exhibits';
import { assetId, SHAPES_TYPE, type Chart, type Report } from '@bold-compass/core/model';
import { nameKey, withoutNames, type Shapes } from '@bold-compass/core/shapes';
import { z } from 'zod';
import type { Assets } from '../assets/index.ts';
import type { DatasetReader } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';
import { canCompose, type Library, type ReportReader } from '../reports/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const id = z.string().regex(/^[0-9a-f]{64}$/, 'a file of a report is named by its id');
const pictureParams = z.object({ report: z.string(), picture: id });
const shapesParams = z.object({ report: z.string(), shapes: id });

const noSuch = (what: string): ApiError => new ApiError('not-found', `This report has no such ${what}.`);

/** The chart of a report that shows some shapes. */
const chartOf = ({ exhibits }: Report, shapes: string): Chart | undefined =>
  exhibits.find((one): one is Chart => one.kind === 'chart' && assetId(one.chart.map.shapes?.source ?? '') === shapes);

/** The names of members that a reader may know, as shapes may be named by them: their own, and their labels. */
async function namesKnown(reader: DatasetReader, fields: readonly string[]): Promise<Set<string>> {
  const names = new Set<string>();
  for (const field of fields) {
    const labels = await reader.labels(field);
    for (const member of await reader.visibleMembers(field)) {
      names.add(nameKey(member));
      names.add(nameKey(labels?.get(member) ?? member));
    }
  }
  return names;
}

/** All outlines of a chart, and of their names those of members that a reader may see. */
async function shapesSeen(bytes: Buffer, reader: DatasetReader, chart: Chart | undefined): Promise<string> {
  const known = await namesKnown(reader, chart?.side.fields ?? []);
  // They were read when they were kept.
  const shapes = JSON.parse(bytes.toString('utf8')) as Shapes;
  return JSON.stringify(withoutNames(shapes, chart?.chart.map.shapes?.key ?? '', (name) => known.has(nameKey(name))));
}

/** Pictures and shapes of reports. */
export function assetRoutes(library: Library, reports: ReportReader, assets: Assets): Route[] {
  return [
    route({
      method: 'post',
      path: '/assets',
      summary: 'Keep a picture or shapes of a map, to be put into a report',
      open: ['analyst'],
      params: noParams,
      body: newAssetSchema,
      answer: keptAssetSchema,
      handle: async ({ body }) => ({ source: await assets.keep(body.source) }),
    }),
    route({
      method: 'get',
      path: '/reports/:report/pictures/:picture',
      summary: 'A picture of a report',
      open: 'person',
      sends: 'image/*',
      params: pictureParams,
      body: noBody,
      answer: z.void(),
      async handle({ params, caller, response }) {
        const { report } = await library.open(caller, params.report, true);
        // While composing, a picture is shown before the draft that it is put into is saved.
        const isShown = report.exhibits.some((one) => one.kind === 'image' && assetId(one.source) === params.picture);
        if (!isShown && !canCompose(caller)) throw noSuch('picture');
        const { type, bytes } = await assets.read(params.picture);
        if (type === SHAPES_TYPE) throw noSuch('picture');
        // A drawing may hold scripts: opened by itself, it runs none of them.
        response.set({ 'Content-Security-Policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'" });
        response.set({ 'Cache-Control': 'private, max-age=3600', 'Content-Type': type }).send(bytes);
      },
    }),
    route({
      method: 'get',
      path: '/reports/:report/shapes/:shapes',
      summary: 'The shapes of a map of a report; those of members that the caller may not see have no name',
      open: 'person',
      sends: SHAPES_TYPE,
      params: shapesParams,
      body: noBody,
      answer: z.void(),
      async handle({ params, caller, response }) {
        const { report } = await library.open(caller, params.report, true);
        const chart = chartOf(report, params.shapes);
        if (!chart && !canCompose(caller)) throw noSuch('shapes');
        const { type, bytes } = await assets.read(params.shapes);
        if (type !== SHAPES_TYPE) throw noSuch('shapes');
        const reader = await reports.reader(caller, chart?.dataset ?? report.dataset);
        const seen = reader.restriction === null ? bytes : await shapesSeen(bytes, reader, chart && inStep(report.exhibits, chart));
        // Who signs in next may see less of it.
        response.set({ 'Cache-Control': 'private, no-cache', 'Content-Type': SHAPES_TYPE }).send(seen);
      },
    }),
  ];
}
