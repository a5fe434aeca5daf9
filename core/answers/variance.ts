import type { VarianceResponse } from '../api/index.ts';
import type { MemberLabel } from '../format/index.ts';
import { allOf, axisOver, fieldLabel, fieldPlural, measureNamed, type Dataset, type Filter, type Variance } from '../model/index.ts';
import { allBut } from '../prompts/index.ts';
import {
  changeSentence,
  contributionsOf,
  differenceSentence,
  earlierMeasure,
  EFFECTS,
  effectsSentence,
  explainedFields,
  memberEffects,
  membersCompared,
  moversSentence,
  sumOfEffects,
  type Contributions,
  type Effects,
  type FigureFormatting,
} from '../variance/index.ts';
import { cubeFor, plainCrosstab, withBack } from './cells.ts';
import { labelsFor, type AnswerContext } from './context.ts';
import { isAdditive } from './additive.ts';
import { AnswerError } from './errors.ts';
import { orNull } from './numbers.ts';

/** A member, or the whole where it is `undefined`, with the values of some measures on both sides of a comparison. */
interface Compared {
  member: string | null | undefined;
  before: (number | null)[];
  after: (number | null)[];
}

/** Reads some measures on both sides: the whole first, then each member of a field, where one is asked. */
type Compare = (field: string | null, measures: readonly string[], filter: Filter | null) => Promise<Compared[]>;

const isKnown = ({ before, after }: Compared): boolean => [...before, ...after].some((value) => value !== null);

/** Two periods: the dates of the scope, and those some periods back. */
function overPeriods(context: AnswerContext, { back }: Variance): Compare {
  return async (field, measures, filter) => {
    let { dataset } = context;
    const earlier = measures.map((measure) => {
      const moved = withBack(dataset, measure, back);
      dataset = moved.dataset;
      return moved.name;
    });
    const spec = plainCrosstab([...measures, ...earlier], field === null ? [] : [field]);
    const cube = await cubeFor({ ...context, dataset }, spec, filter, { side: field === null ? 0 : 1, top: 0 });
    return [0, ...cube.side.nodes[0].children].map((id) => {
      const value = (measure: string): number | null => orNull(cube.value(measure, id, 0));
      return { member: id === 0 ? undefined : cube.side.nodes[id].member, before: earlier.map(value), after: measures.map(value) };
    });
  };
}

/** Two members of a field. */
function overMembers(context: AnswerContext, between: NonNullable<Variance['between']>): Compare {
  return async (field, measures, filter) => {
    const side = axisOver(field === null ? [] : [field], { total: 'always' });
    const cells = measures.map((measure) => ({ measure }));
    const spec = { side, top: axisOver([between.field]), cells, filter: membersCompared(between) };
    const cube = await cubeFor(context, spec, filter, { side: field === null ? 0 : 1, top: 1 });
    const column = (member: string): number | undefined => cube.top.nodes[0].children.find((id) => cube.top.nodes[id].member === member);
    const [before, after] = [column(between.before), column(between.after)];
    return [0, ...cube.side.nodes[0].children].map((id) => {
      const values = (at: number | undefined): (number | null)[] =>
        measures.map((measure) => (at === undefined ? null : orNull(cube.value(measure, id, at))));
      return { member: id === 0 ? undefined : cube.side.nodes[id].member, before: values(before), after: values(after) };
    });
  };
}

/** What rounding of binary fractions leaves, as a share. */
const ROUNDING = 1e-6;

/** Whether the differences of members add up to the difference of the whole: shares and averages do not. */
function addsUp({ named, others }: Contributions<string | null>, whole: number): boolean {
  const sum = named.reduce((total, { change }) => total + change, others?.change ?? 0);
  const size = named.reduce((total, { change }) => total + Math.abs(change), 0);
  return Math.abs(sum - whole) <= ROUNDING * Math.max(size, Math.abs(whole), 1);
}

/** All members of a field but those that are named, as one. */
async function recalculated(
  compare: Compare,
  measure: string,
  filter: Filter | null,
  { dataset, field }: { dataset: Dataset; field: string },
  { named, others }: Contributions<string | null>,
): Promise<Contributions<string | null>['others']> {
  if (!others) return null;
  const members = named.flatMap(({ member }) => (member === null ? [] : [member]));
  const isMissingNamed = named.some(({ member }) => member === null);
  const rest: Filter = isMissingNamed ? { op: 'notIn', field, values: members } : allBut(dataset, field, members);
  const [whole] = await compare(null, [measure], allOf(filter, rest));
  const [before, after] = [whole.before[0], whole.after[0]];
  return { ...others, before: before ?? 0, after: after ?? 0, change: (after ?? 0) - (before ?? 0) };
}

/** The members of a field, without the whole. */
async function membersOf(compare: Compare, field: string, measures: string[], filter: Filter | null): Promise<Compared[]> {
  const [, ...members] = await compare(field, measures, filter);
  return members.filter(isKnown);
}

/** The difference by price, volume and mix, as a whole and by the members that made most of each; null where that is not asked. */
async function effectsIn(
  { dataset }: AnswerContext,
  compare: Compare,
  { measure, effects, most }: Variance,
  filter: Filter | null,
  label: MemberLabel,
): Promise<{ whole: Effects; answer: NonNullable<VarianceResponse['effects']> } | null> {
  if (!effects) return null;
  const { field, quantity } = effects;
  const members = await membersOf(compare, field, [measure, quantity], filter);
  const amounts = ([value, count]: (number | null)[]) => ({ value: value ?? 0, quantity: count ?? 0 });
  const byMember = memberEffects(members.map(({ before, after }) => ({ before: amounts(before), after: amounts(after) })));
  const whole = sumOfEffects(byMember);
  const partOf = (name: keyof Effects): NonNullable<VarianceResponse['effects']>['parts'][keyof Effects] => {
    const touched = members.flatMap(({ member, before: [before], after: [after] }, index) =>
      byMember[index][name] === 0 ? [] : [{ member: member ?? null, before, after, change: byMember[index][name] }],
    );
    return { value: whole[name], ...namedBy(contributionsOf(touched, most), field, label) };
  };
  const parts = Object.fromEntries(EFFECTS.map((name) => [name, partOf(name)])) as Record<keyof Effects, ReturnType<typeof partOf>>;
  return { whole, answer: { field, label: fieldLabel(dataset, field), plural: fieldPlural(dataset, field), parts } };
}

/** Contributions with the words for their members. */
const namedBy = ({ named, others }: Contributions<string | null>, field: string, label: MemberLabel) => ({
  named: named.map(({ member, ...values }) => ({ ...values, path: [member], label: label(field, member) })),
  others,
});

/**
 * What changed between the dates of the scope and those some periods back, or between two members, field by field, the most
 * telling field first. Throws AnswerError `question-invalid` where there are no two members.
 */
export async function varianceOf(context: AnswerContext, exhibit: Variance, scope: Filter | null): Promise<VarianceResponse> {
  const { measure, back, fields, most, between } = exhibit;
  if (between && (between.before === '' || between.after === ''))
    throw new AnswerError('question-invalid', 'Two members are to be compared. Choose both in the settings of this exhibit.');
  const { dataset } = context;
  const compare = between ? overMembers(context, between) : overPeriods(context, exhibit);
  const filter = allOf(scope, exhibit.filter);
  const [whole] = await compare(null, [measure], filter);
  const [before, after] = [whole.before[0], whole.after[0]];
  const label = await labelsFor(context, [...explainedFields(exhibit), ...(between ? [between.field] : [])]);
  const change = (after ?? 0) - (before ?? 0);
  const names = between ? { before: label(between.field, between.before), after: label(between.field, between.after) } : null;
  const looked = await Promise.all(
    fields
      // Over the field that is compared itself there is nothing to tell.
      .filter((field) => field !== between?.field)
      .map(async (field) => {
        const members = await membersOf(compare, field, [measure], filter);
        const found = contributionsOf(
          members.map(({ member, before: [then], after: [now] }) => ({ member: member ?? null, before: then, after: now })),
          most,
        );
        // Distinct counts of this data may happen to add up; they are none the less no sums.
        const isSum = isAdditive(dataset, measure) && addsUp(found, change);
        // Shares, averages and distinct counts of several members are no sums of theirs: they are counted anew from the records.
        const others = isSum ? found.others : await recalculated(compare, measure, filter, { dataset, field }, found);
        return {
          ...{
            field,
            label: fieldLabel(dataset, field),
            plural: fieldPlural(dataset, field),
            ...namedBy({ ...found, others }, field, label),
          },
          ...{ addsUp: isSum, concentration: found.concentration },
        };
      }),
  );
  const { format, label: words } = measureNamed(dataset, measure);
  const formatting: FigureFormatting = { format, locale: context.locale, between: names };
  // A measure that does not know a field has no members there.
  const sorted = looked.filter(({ named }) => named.length > 0).sort((a, b) => b.concentration - a.concentration);
  const effects = await effectsIn(context, compare, exhibit, filter, label);
  const than = `${back.amount === 1 ? `a ${back.unit}` : `${back.amount} ${back.unit}s`} before`;
  const sentence = names
    ? differenceSentence({
        ...formatting,
        label: words,
        before: { label: names.before, value: before },
        after: { label: names.after, value: after },
      })
    : changeSentence({ ...formatting, label: words, before, after, than });
  return {
    ...{ before, after, between: names, effects: effects?.answer ?? null },
    earlier: between ? measure : earlierMeasure(dataset, exhibit),
    fields: sorted.map((own) => ({ ...own, sentence: moversSentence(own.named, formatting) })),
    sentences: [sentence, ...(effects ? [effectsSentence(effects.whole, formatting)] : [])].filter((said) => said !== ''),
  };
}
