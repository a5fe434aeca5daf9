import { datasetSummarySchema, loadSchema, sourceViewSchema } from '@bold-compass/core/api';
import { datasetSchema } from '@bold-compass/core/model';
import { z } from 'zod';
import type { Catalogue } from '../data/index.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const datasetParams = z.object({ dataset: z.string() });
const sourceParams = z.object({ source: z.string() });

export function dataRoutes(catalogue: Catalogue, sources: SourceRegistry): Route[] {
  return [
    route({
      method: 'get',
      path: '/datasets',
      summary: 'All datasets with their sizes',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(datasetSummarySchema),
      handle: () => catalogue.summaries(),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset',
      summary: "A dataset's definition",
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: z.object({ dataset: datasetSchema, version: z.number() }),
      handle: ({ params }) => catalogue.definition(params.dataset),
    }),
    route({
      method: 'get',
      path: '/sources',
      summary: 'The records that datasets are made of',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(sourceViewSchema),
      handle: () => sources.list(),
    }),
    route({
      method: 'get',
      path: '/sources/:source/loads',
      summary: 'How the records of a source came in, the newest first',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: z.array(loadSchema),
      handle: ({ params }) => sources.loads(params.source),
    }),
  ];
}
