import { CrosstabTooLargeError, TooManyGroupsError } from '../engine/index.ts';
import { countWords } from '../format/index.ts';
import { planMeasure } from '../formula/index.ts';
import { allOf, factKnows, factNamed, fieldLabel, type Crosstab, type Filter } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import { AnswerError } from './errors.ts';

const MEMBERS = { one: 'member', many: 'members' };

/** The field of a cross-tab that has the most members under a scope; null where none can be counted. */
async function largestField(
  { dataset, data }: AnswerContext,
  { side, top, cells, filter }: Crosstab,
  scope: Filter | null,
): Promise<{ field: string; members: number } | null> {
  const [measure] = cells;
  const [aggregate] = measure ? planMeasure(dataset, measure.measure).aggregates : [];
  if (!aggregate) return null;
  const fact = factNamed(dataset, aggregate.fact);
  const counted = await Promise.all(
    [...side.fields, ...top.fields]
      .filter((field) => factKnows(dataset, fact, field))
      .map(async (field) => {
        const query = { fact: fact.name, filter: allOf(scope, filter), levels: [field], sets: [[0]], aggregates: [] };
        return { field, members: (await data.query(query)).sets[0].size };
      }),
  );
  return counted.reduce<(typeof counted)[number] | null>((most, one) => (most && most.members >= one.members ? most : one), null);
}

/**
 * Works something out of a cross-tab; where that is too large, throws AnswerError `too-large`, which names the field with the most
 * members and what to do about it.
 */
export async function namingWhatIsLarge<Answer>(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  work: () => Promise<Answer>,
): Promise<Answer> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof CrosstabTooLargeError) && !(error instanceof TooManyGroupsError)) throw error;
    const largest = await largestField(context, exhibit, scope).catch(() => null);
    if (!largest) throw error;
    const number = new Intl.NumberFormat(context.locale);
    const size =
      error instanceof CrosstabTooLargeError
        ? `${number.format(error.rows)} rows and ${number.format(error.columns)} columns`
        : `more than ${number.format(error.groups)} cells`;
    const label = fieldLabel(context.dataset, largest.field);
    throw new AnswerError(
      'too-large',
      `This would make ${size}: ${label} has ${countWords(largest.members, MEMBERS, context.locale)}. Show only the top of them, choose fewer in the scope, or close or move ${label}.`,
    );
  }
}
