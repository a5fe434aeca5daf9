import { z } from 'zod';
import { naming } from './named-members.ts';

/** A literal in a filter. Dates are ISO 8601 text (`2026-10-31`). */
export const literalSchema = naming('value', z.union([z.string(), z.number(), z.boolean()]));
export type Literal = z.infer<typeof literalSchema>;

/**
 * A condition over the fields of a dataset. Fields are named by their formula names.
 * A comparison with a missing value never holds, as in SQL; only `empty` finds it. `includes` is `contains` whatever the case
 * of the letters.
 */
export type Filter =
  | { op: 'and' | 'or'; items: Filter[] }
  | { op: 'not'; item: Filter }
  | { op: 'eq' | 'ne' | 'lt' | 'le' | 'gt' | 'ge'; field: string; value: Literal }
  | { op: 'in' | 'notIn'; field: string; values: Literal[] }
  | { op: 'between'; field: string; low: Literal; high: Literal }
  | { op: 'like' | 'contains' | 'includes' | 'startsWith'; field: string; value: string }
  | { op: 'empty' | 'notEmpty'; field: string };

const fieldName = z.string().min(1);

export const filterSchema: z.ZodType<Filter> = z.lazy(() =>
  z.union([
    z.object({ op: z.enum(['and', 'or']), items: z.array(filterSchema) }),
    z.object({ op: z.literal('not'), item: filterSchema }),
    z.object({ op: z.enum(['eq', 'ne', 'lt', 'le', 'gt', 'ge']), field: fieldName, value: literalSchema }),
    z.object({ op: z.enum(['in', 'notIn']), field: fieldName, values: naming('values', z.array(literalSchema)) }),
    z.object({ op: z.literal('between'), field: fieldName, low: literalSchema, high: literalSchema }),
    z.object({ op: z.enum(['like', 'contains', 'includes', 'startsWith']), field: fieldName, value: naming('value', z.string()) }),
    z.object({ op: z.enum(['empty', 'notEmpty']), field: fieldName }),
  ]),
);

/** Joins conditions with AND; `null` stands for "no condition". */
export function allOf(...filters: (Filter | null | undefined)[]): Filter | null {
  const items = filters
    .filter((filter): filter is Filter => filter != null)
    .flatMap((filter) => (filter.op === 'and' ? filter.items : [filter]));
  if (items.length === 0) return null;
  return items.length === 1 ? items[0] : { op: 'and', items };
}

/** The names of all fields a filter reads, each once. */
export function fieldsOf(filter: Filter | null): string[] {
  const names = new Set<string>();
  const visit = (node: Filter): void => {
    if ('items' in node) node.items.forEach(visit);
    else if (node.op === 'not') visit(node.item);
    else names.add(node.field);
  };
  if (filter) visit(filter);
  return [...names];
}
