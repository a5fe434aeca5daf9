import { controlTotalSchema, pinControlTotalSchema } from '@bold-compass/core/api';
import { z } from 'zod';
import type { ControlTotals } from '../control-totals/index.ts';
import { noBody, route, type Route } from './routing.ts';

const datasetParams = z.object({ dataset: z.string() });

/** Figures that must hold, and whether they do. */
export function controlTotalRoutes(controls: ControlTotals): Route[] {
  return [
    route({
      method: 'get',
      path: '/datasets/:dataset/control-totals',
      summary: 'The control totals of a dataset, and whether they tie out',
      open: ['analyst', 'steward'],
      params: datasetParams,
      body: noBody,
      answer: z.array(controlTotalSchema),
      handle: ({ params, caller }) => controls.of(caller, params.dataset),
    }),
    route({
      method: 'post',
      path: '/datasets/:dataset/control-totals',
      summary: 'Pin a figure that must hold',
      open: ['analyst'],
      params: datasetParams,
      body: pinControlTotalSchema,
      answer: controlTotalSchema,
      handle: ({ params, body, caller }) => controls.pin(caller, params.dataset, body),
    }),
    route({
      method: 'delete',
      path: '/datasets/:dataset/control-totals/:id',
      summary: 'Delete a control total',
      open: ['analyst'],
      params: z.object({ dataset: z.string(), id: z.string() }),
      body: noBody,
      answer: z.object({}),
      async handle({ params, caller }) {
        await controls.remove(caller, params.dataset, params.id);
        return {};
      },
    }),
  ];
}
