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

/**
 * Rules that let through only what the rules of two people both let through: on a field that both are ruled on, the
 * members that both may see; on any other field, the rules of the one.
 */
export function bothRules(one: AccessRule[], other: AccessRule[]): AccessRule[] {
  const place = ({ dataset, field }: AccessRule): string => JSON.stringify([dataset, field]);
  const seenBy = (rules: AccessRule[]): Map<string, AccessRule> => {
    const places = new Map<string, AccessRule>();
    for (const rule of rules) {
      const known = places.get(place(rule));
      places.set(place(rule), { ...rule, members: [...(known?.members ?? []), ...rule.members] });
    }
    return places;
  };
  const [first, second] = [seenBy(one), seenBy(other)];
  const shared = [...first].map(([key, rule]): AccessRule => {
    const also = second.get(key);
    return also ? { ...rule, members: rule.members.filter((member) => also.members.includes(member)) } : rule;
  });
  return [...shared, ...[...second].flatMap(([key, rule]) => (first.has(key) ? [] : [rule]))];
}

/** Whether everything that was seen under some rules may be seen under others. */
export function covers(now: AccessRule[], then: AccessRule[]): boolean {
  return now.every(({ dataset, field }) => {
    const membersOf = (rules: AccessRule[]): string[] =>
      rules.filter((one) => one.dataset === dataset && one.field === field).flatMap(({ members }) => members);
    const allowed = new Set(membersOf(now));
    return then.some((one) => one.dataset === dataset && one.field === field) && membersOf(then).every((member) => allowed.has(member));
  });
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
