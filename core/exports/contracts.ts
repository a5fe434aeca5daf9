import { z } from 'zod';
import { pageSetupSchema, readerScopeSchema, sectionScalesSchema } from '../model/index.ts';
import { EXPORT_FORMAT_NAMES } from './formats.ts';

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
  /** In the place of how the report says that it looks on paper. */
  pageSetup: pageSetupSchema.optional(),
});
export type ExportRequest = z.infer<typeof exportRequestSchema>;

/** A page of paper: its size and the exhibits on it, in points. */
const paperPageSchema = z.object({
  width: z.number(),
  height: z.number(),
  /** The page or section of the report that begins with it; null where one goes on. */
  begins: z.string().nullable(),
  parts: z.array(
    z.object({
      exhibit: z.string(),
      top: z.number(),
      height: z.number(),
      /** Whether it began on a page before. */
      continues: z.boolean(),
    }),
  ),
});
export type PaperPage = z.infer<typeof paperPageSchema>;

/** The pages of a report as they are printed; the file is in base 64. */
export const printedPagesSchema = z.object({ pdf: z.string(), pages: z.array(paperPageSchema) });
export type PrintedPages = z.infer<typeof printedPagesSchema>;

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
