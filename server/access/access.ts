import { allOf, factKnows, type Dataset, type Fact, type Filter } from '@bold-compass/core/model';

/** What a person may see of one field of a dataset. */
export interface AccessRule {
  dataset: string;
  field: string;
  members: string[];
}

/** Holds for no record. */
const NOTHING: Filter = { op: 'or', items: [] };

/** The rules of one dataset as members per field; rules on the same field add up. */
function membersByField(rules: AccessRule[], dataset: Dataset): Map<string, string[]> {
  const fields = new Map<string, string[]>();
  for (const rule of rules) {
    if (rule.dataset !== dataset.name) continue;
    fields.set(rule.field, [...(fields.get(rule.field) ?? []), ...rule.members]);
  }
  return fields;
}

/** The condition that access rules put on the records of a fact. A fact that does not know a ruled field shows nothing. */
export function accessFilter(rules: AccessRule[], dataset: Dataset, fact: Fact): Filter | null {
  const conditions = [...membersByField(rules, dataset)].map(([field, values]): Filter =>
    factKnows(dataset, fact, field) ? { op: 'in', field, values } : NOTHING,
  );
  return allOf(...conditions);
}

/** The condition that access rules put on the members of dimensions. */
export function memberFilter(rules: AccessRule[], dataset: Dataset): Filter | null {
  return allOf(...[...membersByField(rules, dataset)].map(([field, values]): Filter => ({ op: 'in', field, values })));
}

/** Fields of a dataset that a person sees only in part. */
export function ruledFields(rules: AccessRule[], dataset: Dataset): string[] {
  return [...membersByField(rules, dataset).keys()];
}
