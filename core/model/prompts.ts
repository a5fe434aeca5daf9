import { z } from 'zod';
import { nameSchema, periodSchema } from './dataset.ts';
import { filterSchema } from './filter.ts';
import { idSchema } from './ids.ts';
import { naming } from './named-members.ts';

/** The exhibits that a prompt is about: those named, and all on the pages named; every one where nothing is said. */
export const promptReachSchema = z.object({
  pages: z.array(idSchema).max(30).default([]),
  exhibits: z.array(idSchema).max(60).default([]),
});
export type PromptReach = z.infer<typeof promptReachSchema>;

const promptBase = {
  id: idSchema,
  /** What formulas and texts call it; the first field, or the id, where it is not said. */
  name: nameSchema.optional(),
  /** Shown under this; made of its fields where it is not said. */
  label: z.string().max(80).optional(),
  /** Nothing is calculated before it is answered. */
  required: z.boolean().optional(),
  /** Not shown: only links fill it. */
  hidden: z.boolean().optional(),
  reach: promptReachSchema.optional(),
};

const members = z.array(z.string()).max(5_000);

/** Members of some fields from coarse to fine; a later one offers only what the earlier ones leave. */
export const membersPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('members').default('members'),
  fields: z.array(nameSchema).min(1).max(20),
  /** Whether more than one member may be chosen. */
  multiple: z.boolean().default(true),
  /** Members chosen when a reader has not chosen, per field. */
  initial: naming('by field', z.record(z.string(), members)).default({}),
  /** What is chosen at first instead: the first or the latest member, the person's own, or what they chose last time. */
  start: z.enum(['first', 'latest', 'own', 'last_visit']).optional(),
  /** Whether it offers only what occurs together with what other prompts leave. */
  linked: z.boolean().optional(),
});

/** Whole branches of a hierarchy, each at any level. */
export const branchesPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('branches'),
  fields: z.array(nameSchema).min(2).max(20),
  multiple: z.boolean().default(true),
  /** Branches chosen at first, each as the path that leads to it. */
  initial: naming('paths', z.array(z.array(z.string()).min(1)).max(500)).default([]),
});

/** Numbers of a field, from one to another. */
export const rangePromptSchema = z.object({
  ...promptBase,
  kind: z.literal('range'),
  field: nameSchema,
  initial: z.object({ low: z.number().optional(), high: z.number().optional() }).default({}),
});

/** Dates of a field, from one to another; ISO 8601. */
export const datesPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('dates'),
  field: nameSchema,
  initial: z.object({ low: z.iso.date().optional(), high: z.iso.date().optional() }).default({}),
});

/** A stretch of time: whole periods, or one that moves with the data. */
export const periodChoiceSchema = z.union([
  /** From one period to another of the same kind, both whole. */
  z.object({ unit: periodSchema, from: z.string().min(1).max(20), to: z.string().min(1).max(20) }),
  /** The last so many that the data holds whole. */
  z.object({ last: z.number().int().min(1).max(1_000), unit: periodSchema }),
  /** From the start of the period that the data ends in. */
  z.object({ toDate: periodSchema }),
  /** Everything up to the last period that the data holds whole. */
  z.object({ complete: periodSchema }),
]);
export type PeriodChoice = z.infer<typeof periodChoiceSchema>;

export const periodPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('period'),
  /** The calendar, by the name of its dimension. */
  calendar: nameSchema,
  initial: periodChoiceSchema.nullable().default(null),
});

/** A text that a field contains, whatever its case. */
export const textPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('text'),
  field: nameSchema,
  initial: z.string().max(200).default(''),
});

/** Another measure in the place of the first of some. */
export const measurePromptSchema = z.object({
  ...promptBase,
  kind: z.literal('measure'),
  measures: z.array(nameSchema).min(2).max(40),
});

/** Other fields in the place of the first choice. */
export const dimensionPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('dimension'),
  choices: z
    .array(z.object({ label: z.string().min(1).max(60), fields: z.array(nameSchema).min(1).max(20) }))
    .min(2)
    .max(40),
});

/** A condition that is on or off. */
export const switchPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('switch'),
  /** The condition, where it is on. */
  filter: filterSchema.nullable().default(null),
  initial: z.boolean().default(false),
  /** How the scope line says it. */
  on: z.string().min(1).max(80),
  off: z.string().min(1).max(80),
});

/** A number that formulas calculate with. */
export const numberPromptSchema = z.object({
  ...promptBase,
  kind: z.literal('number'),
  initial: z.number(),
  min: z.number().optional(),
  max: z.number().optional(),
  step: z.number().positive().optional(),
  /** 0.12 is written as 12 %. */
  percent: z.boolean().optional(),
});

/** What a report asks its reader. Documents of old do not say the kind of one for members. */
export const promptSchema = z.union([
  z.discriminatedUnion('kind', [
    branchesPromptSchema,
    rangePromptSchema,
    datesPromptSchema,
    periodPromptSchema,
    textPromptSchema,
    measurePromptSchema,
    dimensionPromptSchema,
    switchPromptSchema,
    numberPromptSchema,
  ]),
  membersPromptSchema,
]);
export type Prompt = z.infer<typeof promptSchema>;
export type PromptOf<Kind extends Prompt['kind']> = Extract<Prompt, { kind: Kind }>;
export type MembersPrompt = PromptOf<'members'>;

/** What a reader set: chosen members per field. A field that is not named stands open to every member. */
export const scopeSchema = z.record(z.string(), z.array(z.string()));
export type Scope = z.infer<typeof scopeSchema>;

/** What a reader set in prompts that are not plain lists of members, by the prompt's id, each as its kind writes it. */
export const choicesSchema = z.record(z.string(), z.array(z.string().max(10_000)).max(5_000));
export type Choices = z.infer<typeof choicesSchema>;

/** All that a reader asks under: chosen members, choices of other prompts, and conditions that a link carried along. */
export const readerScopeSchema = z.object({
  scope: scopeSchema.default({}),
  choices: choicesSchema.default({}),
  where: filterSchema.nullable().default(null),
});
export type ReaderScope = z.infer<typeof readerScopeSchema>;
