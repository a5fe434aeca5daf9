import type { MembersResponse } from '../api/index.ts';
import {
  allOf,
  factKnows,
  fieldsAbove,
  type Dataset,
  type Fact,
  type Prompt,
  type ReaderScope,
  type Report,
  type Scope,
} from '../model/index.ts';
import { choiceConditions } from '../prompts/index.ts';
import { dataDays, labelsFor, naturalOrder, type AnswerContext } from './context.ts';
import { recordsByMember } from './record-counts.ts';
import { askedIn, scopeFilter, type Asked } from './scope.ts';

/** The scope that decides what a field still offers: all but the field itself and the finer fields of its own prompt. */
function scopeAround(report: Report, scope: Scope, field: string): Scope {
  const prompt = report.prompts.find((one) => one.kind === 'members' && one.fields.includes(field));
  const free = prompt?.kind === 'members' ? prompt.fields.slice(prompt.fields.indexOf(field)) : [field];
  return Object.fromEntries(Object.entries(scope).filter(([name]) => !free.includes(name)));
}

/** What a prompt offers for: a field of it, as a list or as a tree. */
interface MembersAsked {
  field: string;
  tree?: boolean;
  /** The prompt that asks, whose own choice narrows nothing; that of the field where it is not said. */
  prompt?: string;
}

/** The fact whose records are counted beside the members: the first that knows the field, and most of the scope. */
function countedFact(dataset: Dataset, fields: string[], field: string): Fact | undefined {
  const known = dataset.facts.filter((fact) => factKnows(dataset, fact, field));
  return known.find((fact) => fields.every((name) => factKnows(dataset, fact, name))) ?? known[0];
}

interface Parents {
  /** The words of the members it stands under, the coarsest first. */
  words: string[];
  path: (string | null)[];
}

/** What the members of a field stand under; nothing where that cannot be told. */
async function parentsOf(context: AnswerContext, field: string): Promise<Map<string, Parents[]>> {
  const above = fieldsAbove(context.dataset, field);
  const parents = new Map<string, Parents[]>();
  if (above.length === 0) return parents;
  const label = await labelsFor(context, above);
  for (const path of (await context.data.members([...above, field], null)) ?? []) {
    const member = path.at(-1);
    if (member == null) continue;
    const words = above.map((name, level) => label(name, path[level]));
    parents.set(member, [...(parents.get(member) ?? []), { words, path: path.slice(0, -1) }]);
  }
  return parents;
}

/**
 * The members a prompt offers under the rest of the scope, each with the records that are left for it; as a `tree`, with
 * what each stands under.
 */
export async function promptMembers(
  context: AnswerContext,
  report: Report,
  chosen: ReaderScope,
  { field, tree = false, prompt }: MembersAsked,
): Promise<MembersResponse> {
  const { dataset, data } = context;
  const asks = (one: Prompt): boolean => (prompt === undefined ? one.kind === 'members' && one.fields.includes(field) : one.id === prompt);
  const others = choiceConditions(report, chosen.choices, { dataset, days: dataDays(data) }, (one) => !asks(one));
  const { scope, where }: Asked = askedIn(dataset, { scope: chosen.scope, where: allOf(chosen.where, others) });
  const around = scopeAround(report, scope, field);
  const fact = countedFact(dataset, Object.keys(around), field);
  const counts = new Map<string, number>();
  if (fact) {
    for (const [member, records] of await recordsByMember(context, fact, field, { scope: around, where }))
      if (member !== null) counts.set(member, records);
  }
  const isLinked = report.prompts.some((one) => one.kind === 'members' && one.linked && asks(one));
  // What does not occur together with the other choices is not offered where the prompt is linked to them.
  for (const [member] of isLinked && fact ? [] : ((await data.members([field], scopeFilter(around))) ?? [])) {
    if (member !== null && !counts.has(member)) counts.set(member, 0);
  }
  const order = await naturalOrder(context, field);
  const sorted = [...counts.keys()]
    .map((member) => ({ member, key: order.key(member) }))
    .sort((a, b) => (a.key === null || b.key === null || a.key === b.key ? order.compare(a.member, b.member) : a.key < b.key ? -1 : 1))
    .map(({ member }) => member);
  const label = await labelsFor(context, [field]);
  const parents = tree ? await parentsOf(context, field) : new Map<string, Parents[]>();
  return {
    members: sorted.map((member) => {
      const under = parents.get(member);
      return {
        member,
        label: label(field, member),
        records: counts.get(member)!,
        ...(under ? { under: under.map(({ words }) => words), paths: under.map(({ path }) => path) } : {}),
      };
    }),
    record: fact?.record ?? { one: 'record', many: 'records' },
  };
}
