import { z } from 'zod';
import { readerScopeSchema, sectionScalesSchema } from '../model/index.ts';
import { EXPORT_FORMAT_NAMES, PAPER_NAMES } from './formats.ts';

/** How pages are laid out. */
export const paperSchema = z.object({
  size: z.enum(PAPER_NAMES).default('a4'),
  orientation: z.enum(['portrait', 'landscape']).default('landscape'),
});
export type Paper = z.infer<typeof paperSchema>;

/** What of a report is exported, as its reader has it before them. */
export const exportRequestSchema = z.object({
  report: z.string().min(1).max(200),
  format: z.enum(EXPORT_FORMAT_NAMES),
  draft: z.boolean().default(false),
  ...readerScopeSchema.shape,
  /** Pages by their ids; all where none is named. */
  pages: z.array(z.string()).max(30).default([]),
  /** Of what is repeated in sections: each of them, or only what the choices name. */
  sections: z.enum(['each', 'open']).default('each'),
  /** The exhibit whose rows are written, in a format that carries one table. */
  exhibit: z.string().optional(),
  /** Exhibits that do not stand as composed: how they stand, and what they are asked under where they follow another one. */
  exhibits: z
    .record(
      z.string(),
      z.object({
        asked: readerScopeSchema.optional(),
        /** In a section, where there are some: without the levels that would show one member. */
        state: z.unknown().optional(),
        scales: sectionScalesSchema.optional(),
      }),
    )
    .default({}),
  paper: paperSchema.default({ size: 'a4', orientation: 'landscape' }),
});
export type ExportRequest = z.infer<typeof exportRequestSchema>;

/** An export of a person: waiting, under way, done or not. */
export const exportSchema = z.object({
  id: z.string(),
  format: z.enum(EXPORT_FORMAT_NAMES),
  report: z.string(),
  /** The name of its file. */
  name: z.string(),
  state: z.enum(['queued', 'active', 'done', 'failed', 'cancelled']),
  /** From 0 to 1. */
  progress: z.number(),
  /** Why it failed, and what can be done. */
  problem: z.string(),
  /** In bytes, once it is done. */
  size: z.number().nullable(),
  /** What is in it: "3 sheets", "12 pages". */
  contents: z.string(),
  madeAt: z.string(),
  /** Until when its file is kept. */
  keptUntil: z.string(),
});
export type Export = z.infer<typeof exportSchema>;
