import { reasonNotKnown } from '../crosstab/index.ts';
import { allOf, factKnows, type Fact } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import { scopeFilter, type Asked } from './scope.ts';

/** How many records of a fact each member of a field has, under what the fact knows of the conditions; null for those without a member. */
export async function recordsByMember(
  { dataset, data }: AnswerContext,
  fact: Fact,
  field: string,
  { scope, where }: Asked,
): Promise<Map<string | null, number>> {
  const known = Object.fromEntries(Object.entries(scope).filter(([name]) => factKnows(dataset, fact, name)));
  const { members, sets } = await data.query({
    fact: fact.name,
    // What the fact always leaves out counts nowhere.
    filter: allOf(scopeFilter(known), reasonNotKnown(dataset, fact, where) ? null : where, fact.filter),
    levels: [field],
    sets: [[0]],
    aggregates: [],
  });
  const counts = new Map<string | null, number>();
  sets[0].keys[0].forEach((code, group) => counts.set(code > 0 ? members[0][code - 1] : null, sets[0].records[group]));
  return counts;
}

/** How many records each member of a field has, of all facts that know it. */
export async function allRecords(context: AnswerContext, field: string, asked: Asked): Promise<Map<string | null, number>> {
  const facts = context.dataset.facts.filter((fact) => factKnows(context.dataset, fact, field));
  const counts = new Map<string | null, number>();
  for (const own of await Promise.all(facts.map((fact) => recordsByMember(context, fact, field, asked))))
    for (const [member, records] of own) counts.set(member, (counts.get(member) ?? 0) + records);
  return counts;
}
