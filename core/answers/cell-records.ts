import type { CellRecords, CellRecordsRequest } from '../api/index.ts';
import { factKnows, listSchema, type Crosstab, type Dataset, type Fact, type ListColumn } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import { AnswerError } from './errors.ts';
import { differenceAxis, placedCell } from './explanation.ts';
import { listPage } from './list-page.ts';
import { orNull } from './numbers.ts';
import { valuesInCell } from './placed-values.ts';
import { recordsBehindCell } from './records-behind.ts';
import { askedFilter, type Asked } from './scope.ts';

/** As many columns are shown where the dataset does not say which. */
const USUAL_COLUMNS = 14;

/** The columns that records of a fact are shown with: those the dataset says, else the finest level of each dimension and its own fields. */
function columnsOf(dataset: Dataset, fact: Fact): ListColumn[] {
  const usual = [
    ...fact.fields.filter(({ hidden }) => !hidden),
    ...dataset.dimensions.flatMap((dimension) => {
      // A tree of people has a level for each step, most of them empty at its foot.
      if (dimension.kind === 'calendar' || dimension.tree) return [];
      const known = dimension.levels.filter((level) => !level.hidden && factKnows(dataset, fact, level.name));
      return known.length > 0 ? [known.at(-1)!] : [];
    }),
  ].map(({ name }) => name);
  const chosen = fact.recordColumns?.filter((name) => factKnows(dataset, fact, name)) ?? [];
  const names = chosen.length > 0 ? chosen : usual.slice(0, USUAL_COLUMNS);
  const isAmount = (name: string): boolean => fact.fields.some((field) => field.name === name && field.type === 'decimal');
  return names.map((field) => ({ field, ...(isAmount(field) ? { total: 'sum' as const } : {}) }));
}

/**
 * The records behind a cell, as many as its explanation counts, with what the measure comes to over them. Throws AnswerError
 * `question-invalid` for records that do not stand behind it.
 */
export async function cellRecords(
  context: AnswerContext,
  exhibit: Crosstab,
  asked: Asked,
  { order, offset, limit, part: wanted, ...chosen }: CellRecordsRequest,
): Promise<CellRecords> {
  const { dataset } = context;
  const placed = await placedCell(context, exhibit, asked, chosen);
  if (differenceAxis(placed))
    throw new AnswerError(
      'question-invalid',
      'This line is a difference, which no records stand behind together. Choose a figure of one of its members.',
    );
  const { measure } = placed;
  const [values, parts] = await Promise.all([
    valuesInCell(context, exhibit, [measure.name], placed.place, askedFilter(asked), placed.filter),
    recordsBehindCell(context, measure.name, placed),
  ]);
  const part = wanted === undefined ? parts[0] : parts.find(({ key }) => key === wanted);
  if (!part) throw new AnswerError('question-invalid', 'No such records stand behind this figure. Choose the figure again.');
  const { fact } = part;
  const columns = columnsOf(dataset, fact);
  if (columns.length === 0)
    throw new AnswerError('question-invalid', `${fact.label} have no fields to show. Choose its columns in the dataset.`);
  const list = listSchema.parse({ kind: 'list', id: 'records', title: fact.label, fact: fact.name, columns });
  const known = new Set(columns.map(({ field }) => field));
  return {
    parts: parts.map(({ key, fact: { label }, dates }) => ({ key, label, dates })),
    part: part.key,
    list,
    page: await listPage(context, list, part.filter, { order: order.filter(({ field }) => known.has(field)), offset, limit }),
    measure: { label: measure.label, value: orNull(values.get(measure.name)!.value) },
  };
}
