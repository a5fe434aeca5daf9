import { z } from 'zod';
import { nameSchema } from '../dataset.ts';
import { idSchema } from '../ids.ts';
import { naming } from '../named-members.ts';

/** Order along an axis: by the labels, or by a measure in one column (or row), largest or smallest first. */
export const orderSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('label'), direction: z.enum(['asc', 'desc']).default('asc') }),
  /** By hand: the members named come first, in this order. */
  z.object({ by: z.literal('hand'), members: naming('members', z.array(z.string()).max(2_000)) }),
  /** By the member's smallest value of another field. */
  z.object({ by: z.literal('field'), field: nameSchema, direction: z.enum(['asc', 'desc']).default('asc') }),
  z.object({
    by: z.literal('measure'),
    measure: nameSchema,
    /** Path of the member on the other axis; empty for its total. */
    at: naming('place', z.array(z.string())).default([]),
    direction: z.enum(['asc', 'desc']).default('desc'),
  }),
]);
export type Order = z.infer<typeof orderSchema>;

/** Some members of a level: the largest or smallest by a measure, within each parent or of all; the rest together, or left out. */
export const pickSchema = z.object({
  count: z.number().int().min(1).max(1_000),
  from: z.enum(['top', 'bottom']).default('top'),
  measure: nameSchema,
  /** Path of the member on the other axis; empty for its total. */
  at: naming('place', z.array(z.string())).default([]),
  per: z.enum(['parent', 'all']).default('parent'),
  others: z.boolean().default(true),
});
export type Pick = z.infer<typeof pickSchema>;

/** Members that are shown as one, under a name: together, or some less some others. */
export const memberGroupSchema = z.object({
  id: idSchema,
  label: z.string().min(1).max(80),
  members: naming('members', z.array(z.string()).max(2_000)),
  /** What is taken off: the line is then a difference, and stands beside the members. */
  less: naming('members', z.array(z.string()).max(2_000)).optional(),
  /** Whether it stands in the place of its members, or beside them. */
  instead: z.boolean().default(false),
});
export type MemberGroup = z.infer<typeof memberGroupSchema>;

/** Members in classes by how much of a measure they make: A for the largest that make the first share of the whole, and so on. */
export const memberClassesSchema = z.object({
  measure: nameSchema,
  /** Path of the member on the other axis; empty for its total. */
  at: naming('place', z.array(z.string())).default([]),
  /** Where each class but the last ends, in percent of the whole. */
  upTo: z
    .array(z.number().gt(0).lt(100))
    .min(1)
    .max(5)
    .refine((bounds) => bounds.every((bound, index) => index === 0 || bound > bounds[index - 1]), 'The percentages rise.')
    .default([80, 95]),
  per: z.enum(['parent', 'all']).default('parent'),
});
export type MemberClasses = z.infer<typeof memberClassesSchema>;

export const levelSettingsSchema = z.object({
  /** Whether a member that stands open shows its own values. */
  subtotal: z.boolean().default(true),
  /** Where those stand: before its members or after them. Not said: on its own line in a tree, else where the axis' total stands. */
  subtotalPlace: z.enum(['before', 'after']).optional(),
  order: orderSchema.optional(),
  pick: pickSchema.optional(),
  groups: z.array(memberGroupSchema).max(50).optional(),
  /** In the place of single members, and of groups of these. */
  classes: memberClassesSchema.optional(),
});
export type LevelSettings = z.infer<typeof levelSettingsSchema>;

/** Lines calculated from the members that are shown, and named so. */
export const summarySchema = z.enum(['average', 'sum', 'count', 'smallest', 'largest', 'median', 'deviation']);
export type Summary = z.infer<typeof summarySchema>;

/** A member whose lower levels are others than those of its neighbours. */
export const branchSchema = z.object({
  path: z.array(z.string().nullable()).min(1).max(20),
  /** The fields of the axis as they are for it; down to the member they are those of the axis. */
  fields: z.array(nameSchema).min(1).max(20),
});
export type Branch = z.infer<typeof branchSchema>;

export const axisSchema = z.object({
  fields: z.array(nameSchema),
  /** Down the side of a cross-tab, as its reader opened it. */
  branches: z.array(naming('branch', branchSchema)).max(20).optional(),
  /** By the name of the field. */
  levels: naming('levels', z.record(z.string(), levelSettingsSchema)).default({}),
  totalPlace: z.enum(['after', 'before']).default('after'),
  summaries: z.array(summarySchema).default([]),
  /** As a tree with toggles, or a column for each level; for the side. */
  layout: z.enum(['tree', 'columns']).default('tree'),
  /** In columns: a member's words on each of its rows, or on the first only. */
  repeatLabels: z.boolean().default(false),
  /** Grand total: always, never, or only when it says more than its single member. */
  total: z.enum(['auto', 'always', 'never']).default('auto'),
  /** How many levels stand open at first: 0 shows only the top level. */
  openLevels: z.number().int().min(0).default(0),
  order: orderSchema.default({ by: 'label', direction: 'asc' }),
  hideEmpty: z.boolean().default(true),
});
export type Axis = z.infer<typeof axisSchema>;

/** An axis over some fields, everything else as usual. */
export const axisOver = (fields: string[], part: Partial<Axis> = {}): Axis => axisSchema.parse({ fields, ...part });
