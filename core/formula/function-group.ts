/** Headings under which authors look functions up, in this order. */
export const FUNCTION_GROUPS = [
  'Aggregates',
  'Totals and shares',
  'Periods',
  'Position',
  'Conditions',
  'Numbers',
  'Texts',
  'Dates',
] as const;
export type FunctionGroup = (typeof FUNCTION_GROUPS)[number];
