import { mailSchema, signalsSchema, watchRequestSchema, watchSchema } from '@bold-compass/core/api';
import { z } from 'zod';
import type { SignalBox } from '../signals/index.ts';
import { noBody, route, type Route } from './routing.ts';

const noParams = z.object({});

/** Figures that people watch, and what they were told of them. */
export function signalRoutes(box: SignalBox): Route[] {
  return [
    route({
      method: 'get',
      path: '/signals',
      summary: 'What the caller was told, and which figures they watch',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: signalsSchema,
      handle: ({ caller }) => box.of(caller),
    }),
    route({
      method: 'post',
      path: '/signals/seen',
      summary: 'Mark all signals as seen',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: z.object({}),
      async handle({ caller }) {
        await box.see(caller);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/watches',
      summary: 'Watch a figure',
      open: 'person',
      params: noParams,
      body: watchRequestSchema,
      answer: z.array(watchSchema),
      handle: ({ body, caller }) => box.watch(caller, body),
    }),
    route({
      method: 'delete',
      path: '/watches/:id',
      summary: 'Stop watching a figure',
      open: 'person',
      params: z.object({ id: z.string() }),
      body: noBody,
      answer: z.array(watchSchema),
      handle: ({ params, caller }) => box.unwatch(caller, params.id),
    }),
    route({
      method: 'get',
      path: '/mailbox',
      summary: 'The letters that the simulated mail box holds for the caller',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: z.array(mailSchema),
      handle: ({ caller }) => box.letters(caller),
    }),
  ];
}
