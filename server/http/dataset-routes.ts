import {
  accessViewSchema,
  datasetViewSchema,
  fieldUsesSchema,
  draftRevisionSchema,
  dataTableSchema,
  findingSchema,
  joinSuggestionSchema,
  measureUseSchema,
  memberNodeSchema,
  saveAccessSchema,
  saveDatasetSchema,
  touchedSchema,
} from '@bold-compass/core/api';
import { z } from 'zod';
import type { ControlTotals } from '../control-totals/index.ts';
import type { AccessEditor, DatasetEditor } from '../datasets/index.ts';
import { allMeasures } from '../datasets/index.ts';
import type { Database } from '../database/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const datasetParams = z.object({ dataset: z.string() });

/** What data means: definitions as drafts, checks on the data, access rules, all measures. */
export function datasetRoutes(editor: DatasetEditor, access: AccessEditor, controls: ControlTotals, db: Database): Route[] {
  return [
    route({
      method: 'get',
      path: '/datasets/:dataset/model',
      summary: 'A dataset with its draft',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: datasetViewSchema,
      handle: ({ params, caller }) => editor.view(caller, params.dataset),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/field-uses',
      summary: 'The reports that read each field of a dataset',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: fieldUsesSchema,
      handle: ({ params, caller }) => editor.fieldUses(caller, params.dataset),
    }),
    route({
      method: 'put',
      path: '/datasets/:dataset/draft',
      summary: "Save a dataset's draft, from the revision it started from",
      open: ['analyst'],
      params: datasetParams,
      body: saveDatasetSchema,
      answer: datasetViewSchema,
      handle: ({ params, body, caller }) => editor.save(caller, params.dataset, body),
    }),
    route({
      method: 'delete',
      path: '/datasets/:dataset/draft',
      summary: 'Discard the draft',
      open: ['analyst'],
      params: datasetParams,
      body: draftRevisionSchema,
      answer: datasetViewSchema,
      handle: ({ params, body, caller }) => editor.discard(caller, params.dataset, body.revision),
    }),
    route({
      method: 'delete',
      path: '/datasets/:dataset',
      summary: 'Delete a dataset that no report stands on; its records stay',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: z.object({}),
      async handle({ params, caller }) {
        await editor.remove(caller, params.dataset);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/findings',
      summary: 'What the data says of the draft: joins, hierarchies, measures',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: z.array(findingSchema),
      handle: ({ params, caller }) => editor.check(caller, params.dataset),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/touched',
      summary: 'The reports that stand on what the draft changes',
      open: ['analyst'],
      params: datasetParams,
      body: noBody,
      answer: touchedSchema,
      handle: ({ params, caller }) => editor.touched(caller, params.dataset),
    }),
    route({
      method: 'post',
      path: '/datasets/:dataset/apply',
      summary: 'Make the draft what everyone works with',
      open: ['analyst'],
      params: datasetParams,
      body: draftRevisionSchema,
      answer: datasetViewSchema,
      handle: ({ params, body, caller }) => editor.apply(caller, params.dataset, body.revision),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/tables',
      summary: 'The tables that a dataset can be made of',
      open: ['analyst'],
      params: datasetParams,
      body: noBody,
      answer: z.array(dataTableSchema),
      handle: ({ params, caller }) => editor.tables(caller, params.dataset),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/joins',
      summary: 'Joins that names and contents suggest',
      open: ['analyst'],
      params: datasetParams,
      body: noBody,
      answer: z.array(joinSuggestionSchema),
      handle: ({ params, caller }) => editor.suggestJoins(caller, params.dataset),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/dimensions/:dimension/members',
      summary: 'The members of a dimension as a tree, with counts',
      open: ['analyst', 'steward'],
      params: z.object({ dataset: z.string(), dimension: z.string() }),
      body: noBody,
      answer: z.array(memberNodeSchema),
      handle: ({ params, caller }) => editor.members(caller, params.dataset, params.dimension),
    }),
    route({
      method: 'get',
      path: '/datasets/:dataset/access',
      summary: 'Who sees which members',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: accessViewSchema,
      handle: ({ params, caller }) => access.view(caller, params.dataset),
    }),
    route({
      method: 'put',
      path: '/datasets/:dataset/access',
      summary: 'Say who sees which members; it holds at once',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: saveAccessSchema,
      answer: accessViewSchema,
      handle: ({ params, body, caller }) => access.save(caller, params.dataset, body.rules, body.revision),
    }),
    route({
      method: 'get',
      path: '/measures',
      summary: 'All measures of all datasets, and where each is used',
      open: ['analyst', 'steward'],
      params: noParams,
      body: noBody,
      answer: z.array(measureUseSchema),
      async handle({ caller }) {
        const [measures, counts] = await Promise.all([allMeasures(db, caller), controls.counts(caller)]);
        return measures.map((measure) => ({ ...measure, ...counts(measure.dataset, measure.name) }));
      },
    }),
  ];
}
