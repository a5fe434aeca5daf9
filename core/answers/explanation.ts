import type { Explanation, Path } from '../api/index.ts';
import { isoDate, type DayRange } from '../calendar/index.ts';
import { namesIn, stepsOf, parseFormula, planMeasure, printFormula, goesByPlace } from '../formula/index.ts';
import {
  lessOf,
  measureInRow,
  pathCondition,
  planCell,
  resolvePlan,
  shownValue,
  type AxisTree,
  type CellConditions,
  type SelectedMembers,
  type VisibleNode,
} from '../crosstab/index.ts';
import {
  allOf,
  fieldLabel,
  fieldPlural,
  findMeasure,
  measureNamed,
  type Comparison,
  type Crosstab,
  type Filter,
  type Measure,
  type Totals,
} from '../model/index.ts';
import { namedWords } from '../prompts/index.ts';
import { samePath } from '../table/index.ts';
import { cubeFor, measureUnder, plainCrosstab, withBack, type MeasuredValue } from './cells.ts';
import { conditionsInWords, labelsFor, naturalOrder, type AnswerContext } from './context.ts';
import { composedViewState, prepareTable, viewedTable, type KeptMembers } from './crosstab-window.ts';
import { stepValues } from './formula-steps.ts';
import { orNull } from './numbers.ts';
import { datesInWords } from './records-behind.ts';
import { isAdditive } from './additive.ts';
import { valuesInCell } from './placed-values.ts';
import { drillThroughs, type CellPlace } from './drill-through.ts';
import { askedFilter, type Asked } from './scope.ts';

const MOST_CHILDREN = 12;

/** Whether every member of a cross-tab is shown, each by itself. */
const isPlain = ({ conditions, side, top }: Crosstab): boolean =>
  conditions.length === 0 &&
  [side, top].every(({ levels }) => Object.values(levels).every(({ pick, classes, groups }) => !pick && !classes && !groups?.length));

/** A cell with the conditions it stands under. */
interface PlacedCell {
  /** The place, with the measure that stands there: in rows of some levels it may be another than its column's. */
  place: CellPlace;
  measure: Measure;
  /** What the reader asks under, as far as it goes for this table: what conditions on measures keep is among it. */
  scope: Filter | null;
  /** All conditions of the cell but those that its facts always have. */
  filter: Filter | null;
  /** Those of them that are not the row's. */
  column: Filter | null;
  top: Filter | null;
  selected: SelectedMembers[];
  kept: KeptMembers[];
}

/** Finds out what a cell stands under. */
export async function placedCell(context: AnswerContext, exhibit: Crosstab, asked: Asked, chosen: CellPlace): Promise<PlacedCell> {
  const cell = exhibit.cells.find((one) => one.measure === chosen.measure);
  const place = { ...chosen, measure: (cell && measureInRow(cell, exhibit.side.fields, chosen.side.length)) ?? chosen.measure };
  const reader = askedFilter(asked);
  const depths = { side: place.side.length, top: place.top.length };
  // What conditions keep and what "all others" are is only known from the table itself.
  const { scope, selected, kept } = isPlain(exhibit)
    ? { scope: reader, selected: [], kept: [] }
    : await prepareTable(context, exhibit, reader, depths);
  const along = (which: 'side' | 'top'): Filter | null =>
    pathCondition(
      exhibit[which].fields,
      place[which],
      selected.filter((one) => one.which === which),
    );
  const [side, top] = [along('side'), along('top')];
  const measure = measureNamed(context.dataset, place.measure);
  const filter = allOf(scope, exhibit.filter, side, top);
  return { place, measure, scope, filter, column: allOf(scope, exhibit.filter, top), top, selected, kept };
}

/** Explains a cell: its formula, conditions and records, what it is made of, what it stands against, where it leads. */
export async function explainCell(context: AnswerContext, exhibit: Crosstab, asked: Asked, chosen: CellPlace): Promise<Explanation> {
  const { data } = context;
  const reader = askedFilter(asked);
  const placed = await placedCell(context, exhibit, asked, chosen);
  const { place: request, measure, scope: scopeConditions, filter: cell, selected, kept } = placed;
  const names = [measure.name, ...inputsOf(context, measure).map(({ name }) => name)];
  const values = await valuesInCell(context, exhibit, [...new Set(names)], request, reader, cell);
  const taken = await takenOff(context, exhibit, asked, placed);
  const own = withoutTaken(values.get(measure.name)!, taken?.value);
  const shown = await shownTotal(context, exhibit, reader, request);
  const inputs = inputsOf(context, measure).map((input) => inputValue(context, input, values));
  const [steps, dates, madeOf, against] = await Promise.all([
    stepValues(context, exhibit, furtherSteps(measure, inputs), measure.fact, request, reader, cell),
    comparedDates(context, measure, placed),
    taken ? differenceOf(values.get(measure.name)!, taken) : partsOf(context, exhibit, measure, request, reader, cell),
    shown ? shown.against : comparisonsOf(context, exhibit, measure, request, reader, scopeConditions, cell, placed.top, own.value),
  ]);
  const readable = await data.readable(allOf(cell, ...own.records.map(({ fact }) => fact.filter)));
  return {
    measure: measure.name,
    ...written(context, measure, { ...own, value: shown ? shown.value : own.value }),
    reason: shown ? shown.reason : own.reason,
    isDifference: taken !== null,
    shown: shown ? { summary: shown.summary, fromRecords: orNull(own.value) } : null,
    formula: printFormula(parseFormula(measure.formula)),
    inputs,
    steps,
    dates,
    conditions: await conditionsInWords(context, readable),
    records: own.records.map(({ fact, count }) => ({ ...fact.record, count })),
    madeOf,
    against,
    filter: await data.readable(cell),
    drills: taken
      ? []
      : await drillThroughs(context, exhibit, measure.name, asked, request, {
          ...{ selected, kept, records: own.records[0]?.count ?? 0 },
          value: orNull(shown ? shown.value : own.value),
        }),
  };
}

/** What a difference takes off, with the words for both of its sides. */
interface TakenOff {
  value: MeasuredValue;
  words: { whole: string; less: string };
}

/** Whether a cell stands in a line that is a difference: by the axis that it is on. */
export const differenceAxis = ({ place, selected }: PlacedCell): 'side' | 'top' | null =>
  (['side', 'top'] as const).find((which) => lessUnder(place[which], which, selected) !== undefined) ?? null;

const groupsUnder = (path: Path, which: 'side' | 'top', selected: readonly SelectedMembers[]): NonNullable<SelectedMembers['groups']> =>
  selected.find((one) => one.which === which && samePath(one.parent, path.slice(0, -1)))?.groups ?? [];

function lessUnder(
  path: Path,
  which: 'side' | 'top',
  selected: readonly SelectedMembers[],
): { key: string; members: (string | null)[] } | undefined {
  const key = lessOf(path.at(-1) ?? null);
  return key === null ? undefined : groupsUnder(path, which, selected).find((one) => one.key === key);
}

async function takenOff(context: AnswerContext, exhibit: Crosstab, asked: Asked, placed: PlacedCell): Promise<TakenOff | null> {
  const which = differenceAxis(placed);
  if (!which) return null;
  const { place, measure, selected } = placed;
  const less = lessUnder(place[which], which, selected)!;
  const whole = groupsUnder(place[which], which, selected).find(({ key }) => key === place[which].at(-1));
  const other = await placedCell(context, exhibit, asked, { ...place, [which]: [...place[which].slice(0, -1), less.key] });
  const values = await valuesInCell(context, exhibit, [measure.name], other.place, askedFilter(asked), other.filter);
  const field = exhibit[which].fields[place[which].length - 1];
  const label = await labelsFor(context, [field]);
  const words = (members: readonly (string | null)[] = []): string => namedWords(members.map((member) => label(field, member)));
  return { value: values.get(measure.name)!, words: { whole: words(whole?.members), less: words(less.members) } };
}

/** A value less what is taken off; the records of both stand behind it. */
function withoutTaken(own: MeasuredValue, taken: MeasuredValue | undefined): MeasuredValue {
  if (!taken) return own;
  const records = own.records.map(({ fact, count }) => ({
    fact,
    count: count + (taken.records.find((one) => one.fact.name === fact.name)?.count ?? 0),
  }));
  return { ...own, value: own.value - taken.value, reason: own.reason || taken.reason, records };
}

/** Both sides of a difference. */
const differenceOf = (own: MeasuredValue, { value, words }: TakenOff): Explanation['madeOf'] => ({
  ...{ label: 'a difference', additive: false, more: 0 },
  items: [
    { label: words.whole, value: orNull(own.value) },
    { label: `less ${words.less}`, value: orNull(value.value) },
  ],
});

interface ShownTotal {
  value: number;
  reason: string;
  summary: Totals;
  against: Explanation['against'];
}

/** A total that is calculated of the members shown below it; null where the cell is none. */
async function shownTotal(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  { side, top, measure, viewState }: CellPlace,
): Promise<ShownTotal | null> {
  const cell = exhibit.cells.find((one) => one.measure === measure);
  if (!cell?.totals) return null;
  // What it is held against is calculated in the same way, and so has to be in the table.
  const own = measureNamed(context.dataset, measure);
  const against = exhibit.against.flatMap((one) =>
    one.kind === 'measure' && one.measure !== measure && own.format.kind !== 'percent' ? [one] : [],
  );
  const beside = against.map((one) => ({ measure: one.measure }));
  const compared = { ...exhibit, cells: [...exhibit.cells, ...beside] };
  const { cube, cells, rows, columns } = await viewedTable(context, compared, scope, viewState ?? composedViewState(exhibit));
  const at = (lines: VisibleNode[], tree: AxisTree, path: Path): VisibleNode | undefined =>
    lines.find(({ node, role, bare }) => role !== 'summary' && !bare && samePath(tree.path(node), path));
  const [row, column] = [at(rows, cube.side, side), at(columns, cube.top, top)];
  if (!row || !column || (row.parts.length === 0 && column.parts.length === 0)) return null;
  const of = (name: string): number => shownValue(cells, { measure: name, totals: cell.totals }, row, column);
  const value = of(measure);
  return {
    value,
    reason: !Number.isNaN(value)
      ? ''
      : cell.totals === 'none'
        ? 'This measure shows no totals here.'
        : 'None of the members that are shown has a value here.',
    summary: cell.totals,
    against: against.map((one) => comparedWith(comparisonLabel(context, one), value, of(one.measure), own)),
  };
}

/** The parts of a formula between the measures it names and itself. */
const furtherSteps = (measure: Measure, inputs: Explanation['inputs']): string[] =>
  stepsOf(parseFormula(measure.formula))
    .slice(0, -1)
    .filter((formula) => !inputs.some((input) => input.measure.toLowerCase() === formula.toLowerCase()));

/** The dates of a cell and those that its formula goes to, where these are others. */
async function comparedDates(
  { dataset, data, locale }: AnswerContext,
  { name }: Measure,
  cell: CellConditions,
): Promise<Explanation['dates']> {
  const plan = planCell(dataset, name, cell);
  if (plan.parts.every(({ context }) => context.moves.length === 0)) return [];
  await resolvePlan(data, plan);
  const words = (ranges: DayRange[]): string => datesInWords(ranges, locale);
  const found = plan.parts.flatMap(({ dates }) => (dates ? [{ own: words(dates.own), moved: words(dates.moved) }] : []));
  return [...new Map(found.filter(({ own, moved }) => moved !== '' && own !== moved).map((one) => [JSON.stringify(one), one])).values()];
}

/** The measures that a formula names. */
const inputsOf = ({ dataset }: AnswerContext, { formula }: Measure): Measure[] =>
  [...namesIn(formula)].flatMap((name) => findMeasure(dataset, name) ?? []);

const inputValue = (
  context: AnswerContext,
  { name, label, formula }: Measure,
  values: Map<string, MeasuredValue>,
): Explanation['inputs'][number] => ({
  ...{ measure: name, label, formula: printFormula(parseFormula(formula)) },
  ...written(context, { name }, values.get(name)!),
});

/** A value as text: a date in ISO 8601, not as its number of days. */
function written(
  { dataset }: AnswerContext,
  { name }: Pick<Measure, 'name'>,
  { value, text }: Pick<MeasuredValue, 'value' | 'text'>,
): { value: number | null; text?: string } {
  if (planMeasure(dataset, name).type === 'date') return { value: null, ...(Number.isNaN(value) ? {} : { text: isoDate(value) }) };
  return { value: orNull(value), ...(text === null ? {} : { text }) };
}

/** The next level down, down the side first, that the measure has values at. */
async function partsOf(
  context: AnswerContext,
  exhibit: Crosstab,
  measure: Measure,
  place: CellPlace,
  scope: Filter | null,
  cell: Filter | null,
): Promise<Explanation['madeOf']> {
  for (const which of ['side', 'top'] as const) {
    const field = exhibit[which].fields[place[which].length];
    if (field === undefined) continue;
    const children = goesByPlace(planMeasure(context.dataset, measure.name).cell)
      ? await membersInTable(context, exhibit, measure.name, place, which, scope)
      : await membersUnder(context, measure.name, field, cell);
    if (!children) continue;
    const { compare } = await naturalOrder(context, field);
    const label = await labelsFor(context, [field]);
    const isPeriod = which === 'top';
    children.sort(
      (a, b) =>
        (isPeriod ? 0 : (Number.isNaN(b.value) ? -Infinity : b.value) - (Number.isNaN(a.value) ? -Infinity : a.value)) ||
        compare(a.member, b.member),
    );
    if (children.length === 0) continue;
    return {
      label: `${children.length} ${children.length === 1 ? fieldLabel(context.dataset, field).toLowerCase() : fieldPlural(context.dataset, field)}`,
      additive: isAdditive(context.dataset, measure.name),
      items: children.slice(0, MOST_CHILDREN).map(({ member, value }) => ({ label: label(field, member), value: orNull(value) })),
      more: Math.max(0, children.length - MOST_CHILDREN),
    };
  }
  return null;
}

interface MemberValue {
  member: string | null;
  value: number;
}

/** The members of a field under a condition; null where the measure has no values at it. */
async function membersUnder(context: AnswerContext, measure: string, field: string, cell: Filter | null): Promise<MemberValue[] | null> {
  const cube = await cubeFor(context, plainCrosstab([measure], [field]), cell, { side: 1, top: 0 });
  if (cube.plan.parts.some((part) => part.query === null || part.known.side === 0)) return null;
  return cube.side.nodes[0].children.map((id) => ({ member: cube.side.nodes[id].member, value: cube.value(measure, id, 0) }));
}

/** The members below a cell in the table itself, for a measure that goes by where they stand. */
async function membersInTable(
  context: AnswerContext,
  exhibit: Crosstab,
  measure: string,
  place: CellPlace,
  which: 'side' | 'top',
  scope: Filter | null,
): Promise<MemberValue[] | null> {
  const depths = { side: place.side.length, top: place.top.length };
  depths[which]++;
  const { cube } = await prepareTable(context, { ...exhibit, cells: [{ measure }] }, scope, depths);
  const [row, column] = [cube.side.find(place.side), cube.top.find(place.top)];
  if (!row || !column) return null;
  const under = which === 'side' ? row : column;
  return under.children.map((id) => ({
    member: cube[which].nodes[id].member,
    value: which === 'side' ? cube.value(measure, id, column.id) : cube.value(measure, row.id, id),
  }));
}

const UNIT_WORDS = { year: 'year', quarter: 'quarter', month: 'month', week: 'week', day: 'day' } as const;

function comparisonLabel(context: AnswerContext, against: Comparison): string {
  if (against.kind === 'measure') return measureNamed(context.dataset, against.measure).label;
  if (against.kind === 'value') return String(against.value);
  return against.amount === 1
    ? `Same days, last ${UNIT_WORDS[against.unit]}`
    : `Same days, ${against.amount} ${UNIT_WORDS[against.unit]}s back`;
}

/** How a value stands against another one. */
function comparedWith(label: string, value: number, other: number, { format, direction }: Measure): Explanation['against'][number] {
  const isRatio = format.kind === 'percent';
  const difference = isRatio ? value - other : (value - other) / Math.abs(other);
  const known = Number.isFinite(difference);
  return {
    label,
    value: orNull(other),
    difference: known ? difference : null,
    kind: isRatio ? 'points' : 'change',
    good: known && difference !== 0 ? difference > 0 === (direction === 'higher') : null,
  };
}

/** What a cell is held against, calculated where it stands. */
async function comparedValue(
  context: AnswerContext,
  exhibit: Crosstab,
  measure: string,
  against: Comparison,
  place: CellPlace,
  scope: Filter | null,
  cell: Filter | null,
): Promise<number> {
  if (against.kind === 'value') return against.value;
  const { dataset, name } =
    against.kind === 'back' ? withBack(context.dataset, measure, against) : { dataset: context.dataset, name: against.measure };
  return (await valuesInCell({ ...context, dataset }, exhibit, [name], place, scope, cell)).get(name)!.value;
}

async function comparisonsOf(
  context: AnswerContext,
  exhibit: Crosstab,
  measure: Measure,
  request: CellPlace,
  reader: Filter | null,
  scopeConditions: Filter | null,
  cell: Filter | null,
  /** The conditions of the cell's place across the top. */
  top: Filter | null,
  value: number,
): Promise<Explanation['against']> {
  const isRatio = measure.format.kind === 'percent';
  const comparisons = exhibit.against.filter((against) => !(against.kind === 'measure' && (against.measure === measure.name || isRatio)));
  const compared = await Promise.all(
    comparisons.map(async (against): Promise<Explanation['against'][number]> => {
      const other = await comparedValue(context, exhibit, measure.name, against, request, reader, cell);
      return comparedWith(comparisonLabel(context, against), value, other, measure);
    }),
  );
  if (!isAdditive(context.dataset, measure.name) || request.side.length === 0) return compared;
  const parent = request.side.slice(0, -1);
  const whole = allOf(scopeConditions, exhibit.filter, pathCondition(exhibit.side.fields, parent, []), top);
  const share = value / (await measureUnder(context, measure.name, whole)).value;
  const field = exhibit.side.fields[parent.length - 1];
  const name = field === undefined ? 'the total' : (await labelsFor(context, [field]))(field, parent.at(-1) ?? null);
  return [
    ...compared,
    { label: `Share of ${name}`, value: null, difference: Number.isFinite(share) ? share : null, kind: 'share', good: null },
  ];
}
