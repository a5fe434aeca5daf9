import { datasetSummarySchema, loadSchema, sourceViewSchema } from '@bold-compass/core/api';
import { datasetSchema } from '@bold-compass/core/model';
import { z } from 'zod';
import type { Catalogue } from '../data/index.ts';
import { maySee } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
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
      handle: ({ caller }) => catalogue.summaries(caller),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset',
      summary: "A dataset's definition",
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: z.object({ dataset: datasetSchema, version: z.number() }),
      async handle({ params, caller }) {
        const head = await catalogue.definition(params.dataset);
        if (!maySee(caller, head)) throw new ApiError('not-found', `There is no dataset called "${params.dataset}".`);
        return { dataset: head.dataset, version: head.version };
      },
    }),
    route({
      method: 'get',
      path: '/sources',
      summary: 'The records that datasets are made of',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(sourceViewSchema),
      handle: ({ caller }) => sources.list(caller),
    }),
    route({
      method: 'get',
      path: '/sources/:source/loads',
      summary: 'How the records of a source came in, the newest first',
      open: ['analyst', 'steward'],
      params: sourceParams,
      body: noBody,
      answer: z.array(loadSchema),
      handle: ({ params, caller }) => sources.loads(caller, params.source),
    }),
  ];
}
