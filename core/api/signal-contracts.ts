import { z } from 'zod';
import { readerScopeSchema } from '../model/index.ts';
import { pathSchema, stateSchema, viewQuerySchema } from './contracts.ts';

/** A figure that somebody wants to be told of: a KPI of a strip, or a judged cell of a cross-tab; paths stand as in documents. */
export const watchedSchema = z.union([
  z.object({ kpi: z.string().min(1).max(60) }),
  z.object({ side: pathSchema, top: pathSchema, measure: z.string().min(1).max(200) }),
]);
export type Watched = z.infer<typeof watchedSchema>;

export const watchRequestSchema = z.object({
  report: z.string().min(1).max(60),
  exhibit: z.string().min(1).max(60),
  watched: watchedSchema,
  /** What it stands under. */
  ...readerScopeSchema.shape,
  /** What it is called, as the reader sees it. */
  label: z.string().trim().min(1).max(200),
  /** The parts of the address that lead to it. */
  query: viewQuerySchema,
});
export type WatchRequest = z.infer<typeof watchRequestSchema>;

export const watchSchema = z.object({
  id: z.string(),
  report: z.string(),
  title: z.string(),
  exhibit: z.string(),
  watched: watchedSchema,
  label: z.string(),
  query: viewQuerySchema,
  state: stateSchema,
  /** Why it cannot be looked at any more; empty where it can. */
  problem: z.string(),
});
export type Watch = z.infer<typeof watchSchema>;

/** That a figure changed its state; told once. */
export const signalSchema = z.object({
  id: z.number(),
  report: z.string(),
  title: z.string(),
  label: z.string(),
  query: viewQuerySchema,
  before: stateSchema,
  after: stateSchema,
  /** The figure before and after, in words. */
  valueBefore: z.string(),
  valueAfter: z.string(),
  at: z.string(),
  isNew: z.boolean(),
});
export type Signal = z.infer<typeof signalSchema>;

export const signalsSchema = z.object({ signals: z.array(signalSchema), watches: z.array(watchSchema), unseen: z.number() });
export type Signals = z.infer<typeof signalsSchema>;

/** A letter of the simulated mail box. */
export const mailSchema = z.object({ id: z.number(), to: z.string(), subject: z.string(), text: z.string(), at: z.string() });
export type Mail = z.infer<typeof mailSchema>;
