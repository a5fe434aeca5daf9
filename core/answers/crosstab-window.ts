import type { CrosstabRequest, CrosstabResponse, Header, Path, ViewState } from '../api/index.ts';
import { isoDate, periodLabel } from '../calendar/index.ts';
import {
  conditionsPlan,
  Cube,
  depthNeeded,
  membersThatHold,
  OTHERS,
  planCrosstab,
  planOthers,
  reasonBelow,
  resolvePlan,
  selectTopMembers,
  cellInRow,
  combinedWords,
  isCombined,
  measuresInRows,
  shownCell,
  shownValue,
  takenApart,
  visibleNodes,
  type AxisTree,
  type CellReader,
  type CrosstabPlan,
  type Depths,
  type MemberOrder,
  type PlanTakenApart,
  type SelectedMembers,
  type VisibleNode,
} from '../crosstab/index.ts';
import { everyPart, planMeasure, type CellType } from '../formula/index.ts';
import type { MemberLabel } from '../format/index.ts';
import { targetName } from '../indicators/index.ts';
import {
  allOf,
  axisOver,
  fieldPlace,
  isSameDimension,
  measureNamed,
  type Axis,
  type Branch,
  type CellMeasure,
  type Crosstab,
  type Dataset,
  type Filter,
  type Mark,
  type Order,
  type LevelSettings,
} from '../model/index.ts';
import { markKindOf, ruleMeasure, stateMeasure } from '../marks/index.ts';
import { askCube, askParts } from './cells.ts';
import { asBranch, branchedLines, inBranch, joinedLines, viewStateOfBranch, withBranchFigures } from './branches.ts';
import { AnswerError } from './errors.ts';
import { labelsFor, naturalOrder, orderByField, type AnswerContext, type CompareMembers } from './context.ts';
import type { AnswerData, MemberPath } from './data.ts';
import { marksIn, statesIn } from './marks/index.ts';
import { orNull } from './numbers.ts';
import { openedMembers } from './opened-members.ts';
import type { PreparedTable } from './table-cache.ts';

/** A table with the conditions under which it was put together: the scope, and the members that conditions on measures keep. */
interface ConditionedTable extends PreparedTable {
  scope: Filter | null;
  kept: KeptMembers[];
}

const orderMeasure = (order: Order | null | undefined): string[] => (order?.by === 'measure' ? [order.measure] : []);

/** Measures that a mark reads, the condition of a rule among them. */
function measuresOfMark(mark: Mark): string[] {
  const kind = markKindOf(mark);
  const formula = kind.formula?.(mark);
  return [...kind.names(mark).measures, ...(formula === undefined ? [] : [ruleMeasure(formula).name])];
}

/** Measures that are needed beside those in the cells. */
function measuresBeside(dataset: Dataset, { cells, side, top }: Crosstab): string[] {
  return [
    ...cells.flatMap((cell) => [stateMeasure(dataset, cell)?.name, targetName(dataset, cell)].filter((name) => name != null)),
    ...measuresInRows({ cells, side }),
    ...cells.flatMap(({ marks = [] }) => marks.flatMap(measuresOfMark)),
    ...[side, top].flatMap(({ fields, levels, order }) => [
      ...orderMeasure(order),
      ...fields.flatMap((field) => [...orderMeasure(levels[field]?.order), ...selectionsAt(levels[field]).map(({ measure }) => measure)]),
    ]),
  ];
}

/** What members of a level are selected by. */
const selectionsAt = ({ pick, classes }: Partial<LevelSettings> = {}): { measure: string; at: string[] }[] =>
  [pick, classes].filter((one) => one !== undefined);

const depthOf = (order: Order | null | undefined): number => (order?.by === 'measure' ? order.at.length : 0);

/** The depths that orders and selections of members need too: they may go by members deeper than those that are shown. */
function depthsToSortBy(exhibit: Crosstab, depths: Depths): Depths {
  const goneBy = (which: 'side' | 'top'): number => {
    const { fields, levels, order } = exhibit[which];
    return Math.max(
      depthOf(order),
      ...fields.map((field) => Math.max(depthOf(levels[field]?.order), ...selectionsAt(levels[field]).map(({ at }) => at.length))),
    );
  };
  return {
    side: Math.min(exhibit.side.fields.length, Math.max(depths.side, goneBy('top'))),
    top: Math.min(exhibit.top.fields.length, Math.max(depths.top, goneBy('side'))),
  };
}

/** The members that a condition on a measure keeps, as a condition on their field. */
export interface KeptMembers {
  field: string;
  filter: Filter;
}

/** The conditions on measures as conditions on members: each is judged over all records of the scope. */
function keptMembers({ dataset, data }: AnswerContext, exhibit: Crosstab, scope: Filter | null): Promise<KeptMembers[]> {
  return Promise.all(
    exhibit.conditions.map(async (condition) => {
      const cube = await askCube(data, conditionsPlan(dataset, condition, allOf(scope, exhibit.filter)));
      return { field: condition.field, filter: membersThatHold(cube, condition) };
    }),
  );
}

/**
 * Puts a cross-tab together down to some depths, with all others where members are selected; below members that stand open alone
 * where `open` says so and nothing goes by what is not shown. Throws CrosstabTooLargeError.
 */
export async function prepareTable(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  depths: Depths,
  hideEmpty: { side: boolean; top: boolean } = { side: true, top: true },
  open: ViewState['side'] | null = null,
): Promise<ConditionedTable> {
  const kept = await keptMembers(context, exhibit, scope);
  const conditioned = allOf(scope, ...kept.map(({ filter }) => filter));
  return { ...(await tableUnder(context, exhibit, conditioned, depths, hideEmpty, open)), scope: conditioned, kept };
}

/** The table under conditions that are known; remembered. */
async function tableUnder(
  context: AnswerContext,
  exhibit: Crosstab,
  conditions: Filter | null,
  depths: Depths,
  hideEmpty: { side: boolean; top: boolean },
  open: ViewState['side'] | null,
): Promise<PreparedTable> {
  const { dataset, data, tables } = context;
  const plan = planCrosstab(dataset, exhibit, conditions, depthsToSortBy(exhibit, depths), measuresBeside(dataset, exhibit));
  await resolvePlan(data, plan);
  const opened = open && hideEmpty.top ? openedMembers(exhibit, plan, open) : null;
  const key = JSON.stringify([
    data.key,
    opened,
    plan.parts.map((part) => part.query),
    // Different measures may be made of the same aggregates.
    plan.measures.map(({ name }) => [name, formulasBehind(dataset, name)]),
    dataset.promptValues ?? null,
    plan.side,
    plan.top,
    hideEmpty,
    exhibit.side.levels,
    exhibit.top.levels,
  ]);
  let table = tables.get(key);
  if (!table) {
    table = opened
      ? openTable(context, takenApart(plan, opened.levels, opened.condition), () =>
          tableUnder(context, exhibit, conditions, { ...depths, side: opened.levels }, hideEmpty, null),
        )
      : askTable(context, plan, exhibit, conditions, hideEmpty);
    tables.set(key, table);
    table.catch(() => tables.delete(key));
  }
  return table;
}

/** The formula of a measure, and of those it is made of. */
const formulasBehind = (dataset: Dataset, measure: string): string[] =>
  [...everyPart(planMeasure(dataset, measure).cell)].flatMap((part) =>
    part.kind === 'measure' ? [measureNamed(dataset, part.name).formula] : [],
  );

async function askTable(
  { data, dataset }: AnswerContext,
  plan: CrosstabPlan,
  exhibit: Crosstab,
  scope: Filter | null,
  hideEmpty: { side: boolean; top: boolean },
): Promise<PreparedTable> {
  // Members without records are only asked for where they are to be shown.
  const conditions = allOf(scope, exhibit.filter);
  const all = (fields: string[], hidden: boolean): Promise<MemberPath[] | null> =>
    hidden ? Promise.resolve(null) : membersOf(dataset, data, fields, conditions);
  const [side, top, results] = await Promise.all([all(plan.side, hideEmpty.side), all(plan.top, hideEmpty.top), askParts(data, plan)]);
  const cube = new Cube(plan, results, { side, top });
  const selected = (['side', 'top'] as const).flatMap((which) => selectTopMembers(cube, which, plan[which], exhibit[which].levels));
  const questions = await planOthers(data, plan, selected);
  const asked = { queries: queriesOf(plan), results };
  if (questions.length === 0) return { cube, selected, asked, lines: new Map() };
  const others = await Promise.all(questions.map(async (question) => ({ ...question, results: await askParts(data, question.plan) })));
  return { cube: new Cube(plan, results, { side, top }, others), selected, asked, lines: new Map() };
}

const queriesOf = ({ parts }: CrosstabPlan): string => JSON.stringify(parts.map(({ query }) => query));

/** A table with some members open: what is below them is asked for, and added to what was known of all. */
async function openTable(
  { data }: AnswerContext,
  { shown, below }: PlanTakenApart,
  closedTable: () => Promise<PreparedTable>,
): Promise<PreparedTable> {
  // What every member is shown at was asked for before one was opened.
  const ofAll = async (): Promise<PreparedTable['asked']['results']> => {
    const { asked } = await closedTable();
    return asked.queries === queriesOf(shown) ? asked.results : askParts(data, shown);
  };
  const [results, deeper] = await Promise.all([ofAll(), askParts(data, below)]);
  const cube = new Cube(shown, results, { side: null, top: null }, [{ side: null, top: null, plan: below, results: deeper }]);
  return { cube, selected: [], asked: { queries: queriesOf(shown), results }, lines: new Map() };
}

/** View states that are cached for one table. */
const MOST_WAYS = 8;

/** Works something out once for a key; of many keys the first are forgotten. */
function remembered<Value>(known: Map<string, Promise<Value>>, key: string, work: () => Promise<Value>): Promise<Value> {
  let value = known.get(key);
  if (!value) {
    if (known.size >= MOST_WAYS) known.delete(known.keys().next().value!);
    known.set(key, (value = work()));
    value.catch(() => known.delete(key));
  }
  return value;
}

/** The members of an axis with or without records, as deep as its levels are of one dimension. */
function membersOf(dataset: Dataset, data: AnswerData, fields: string[], conditions: Filter | null): Promise<MemberPath[] | null> {
  const [first, ...finer] = fields.map((field) => fieldPlace(dataset, field));
  if (!first?.dimension) return Promise.resolve(null);
  const other = finer.findIndex((place) => !isSameDimension(first, place));
  return data.members(fields.slice(0, other < 0 ? fields.length : other + 1), conditions);
}

/** How a table stands before its reader opens or orders anything. */
export function composedViewState(exhibit: Crosstab): ViewState {
  const axis = ({ openLevels, hideEmpty }: Axis): ViewState['side'] => ({
    open: { depth: openLevels, exceptions: [] },
    order: null,
    hideEmpty,
  });
  return { side: axis(exhibit.side), top: axis(exhibit.top) };
}

/** A table as it stands: opened and ordered, with the lines that are shown. */
interface ViewedTable extends ConditionedTable {
  /** Reads its cells in the order in which members are shown. */
  cells: CellReader;
  rows: VisibleNode[];
  columns: VisibleNode[];
}

/** A table with those of the members that were opened by levels of their own. */
interface BranchingTable extends ViewedTable {
  branches: { branch: Branch; exhibit: Crosstab; table: ViewedTable }[];
}

/** Puts a cross-tab together as it is opened and ordered. Throws CrosstabTooLargeError and AnswerError. */
export async function viewedTable(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  request: ViewState,
): Promise<BranchingTable> {
  const { branches: asked = [] } = exhibit.side;
  const table = await ownTable(context, exhibit, scope, request);
  if (asked.length === 0) return { ...table, branches: [] };
  const branches = await Promise.all(
    asked.map(async (branch) => {
      const other = asBranch(exhibit, branch);
      return { branch, exhibit: other, table: await ownTable(context, other, scope, viewStateOfBranch(request, branch)) };
    }),
  );
  const rows = withBranchFigures(
    table.rows,
    pathIn(table),
    branches.map(({ branch, table: own }) => {
      const columnLike = (column: VisibleNode): VisibleNode => columnsLike(table, [column], own)[0];
      return { branch, rows: own.rows, pathOf: pathIn(own), cells: own.cells, columnLike };
    }),
  );
  return { ...table, rows, branches };
}

const pathIn =
  ({ cube }: Pick<ViewedTable, 'cube'>) =>
  ({ node }: VisibleNode): Path =>
    cube.side.path(node);

/** A table without what its branches show. */
async function ownTable(context: AnswerContext, exhibit: Crosstab, scope: Filter | null, request: ViewState): Promise<ViewedTable> {
  const depthIn = (which: 'side' | 'top', across: 'side' | 'top'): number => {
    const levels = exhibit[which].fields.length;
    return Math.min(levels, Math.max(depthNeeded(levels, request[which].open), depthOf(request[across].order)));
  };
  const depths = { side: depthIn('side', 'top'), top: depthIn('top', 'side') };
  const hideEmpty = { side: request.side.hideEmpty, top: request.top.hideEmpty };
  const table = await prepareTable(context, exhibit, scope, depths, hideEmpty, request.side);
  const { cube, selected, lines } = table;
  /** Sorted and laid out once for each way that the axis stands, not with every window. */
  const axisOf = (which: 'side' | 'top'): Promise<VisibleNode[]> => {
    const { open, order } = request[which];
    const { fields, levels, total, totalPlace, summaries, layout, order: usual } = exhibit[which];
    const view = { fields, levels, total, totalPlace, summaries, layout, usual, open, order, hideEmpty: hideEmpty[which] };
    return remembered(lines, JSON.stringify([which, view]), async () => {
      const own = selected.filter((one) => one.which === which);
      const orders = await memberOrders(context, exhibit[which], order, cube.plan[which].length);
      return visibleNodes(cube, which, { ...view, selected: own }, orders);
    });
  };
  const [rows, columns] = await Promise.all([axisOf('side'), axisOf('top')]);
  return { ...table, rows, columns, cells: inShownOrder(cube, rows, columns) };
}

const readers = new WeakMap<VisibleNode[], WeakMap<VisibleNode[], CellReader>>();

/** The cells for formulas that go by the order of members; remembered with the lines, so that what they work out is kept. */
function inShownOrder(cube: Cube, rows: VisibleNode[], columns: VisibleNode[]): CellReader {
  let byColumns = readers.get(rows);
  if (!byColumns) readers.set(rows, (byColumns = new WeakMap<VisibleNode[], CellReader>()));
  let reader = byColumns.get(columns);
  if (!reader)
    byColumns.set(columns, (reader = cube.inOrder({ side: shownMembers(cube.side, rows), top: shownMembers(cube.top, columns) })));
  return reader;
}

/** The members shown under each node, in their order. */
function shownMembers(tree: AxisTree, lines: VisibleNode[]): Map<number, number[]> {
  const shown = new Map<number, number[]>();
  const seen = new Uint8Array(tree.nodes.length);
  for (const { node, role } of lines) {
    // A member that stands open across the top is shown by its parts and its subtotal.
    for (let id = node; role !== 'summary' && id > 0 && seen[id] === 0; id = tree.nodes[id].parent) {
      seen[id] = 1;
      const { parent } = tree.nodes[id];
      const own = shown.get(parent);
      if (own) own.push(id);
      else shown.set(parent, [id]);
    }
  }
  return shown;
}

/** Answers a window of cells of a cross-tab, as opened and ordered. Throws CrosstabTooLargeError. */
export async function crosstabWindow(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  request: CrosstabRequest,
): Promise<CrosstabResponse> {
  const started = performance.now();
  const table = await viewedTable(context, exhibit, scope, request);
  const { columns, branches } = table;
  const inWindow = <Line>(lines: readonly Line[]): Line[] => lines.slice(request.rows.from, request.rows.from + request.rows.count);
  // A table has up to a hundred thousand lines, and hardly any has branches: they are not gone through without need.
  const lines =
    branches.length === 0
      ? null
      : branchedLines(
          table.rows,
          pathIn(table),
          branches.map(({ branch, table: own }) => ({ branch, rows: own.rows, pathOf: pathIn(own) })),
        );
  const shownLines = lines ? inWindow(lines) : inWindow(table.rows).map((row) => ({ branch: -1, row }));
  const shownColumns = columns.slice(request.columns.from, request.columns.from + request.columns.count);
  const rowsOf = (which: number): VisibleNode[] => shownLines.filter(({ branch }) => branch === which).map(({ row }) => row);
  const whole = await windowShown(context, exhibit, table, rowsOf(-1), shownColumns);
  const others = await Promise.all(
    branches.map((other, index) =>
      windowShown(context, other.exhibit, other.table, rowsOf(index), columnsLike(table, shownColumns, other.table)),
    ),
  );
  const next = new Map<number, number>();
  const order = shownLines.map(({ branch }) => {
    const at = next.get(branch) ?? 0;
    next.set(branch, at + 1);
    const from = branch < 0 ? whole : others[branch];
    const header = from.rows[at];
    return { from, at, header: branch < 0 ? header : { ...header, path: inBranch(branches[branch].branch, header.path) } };
  });
  const { rows: rowHeaders, columns: columnHeaders, ...values } = lines ? joinedLines(order, whole) : whole;
  return {
    rows: { total: (lines ?? table.rows).length, from: request.rows.from, items: rowHeaders },
    columns: { total: columns.length, from: request.columns.from, items: columnHeaders },
    ...values,
    milliseconds: Math.round((performance.now() - started) * 10) / 10,
  };
}

/** The same columns in a table of other rows: over the same records both have the same. Throws AnswerError where one is missing. */
function columnsLike(table: ViewedTable, columns: VisibleNode[], other: ViewedTable): VisibleNode[] {
  const keyOf = ({ cube }: ViewedTable, { node, role, summary }: VisibleNode): string =>
    JSON.stringify([cube.top.path(node), role, summary]);
  const known = new Map(other.columns.map((column) => [keyOf(other, column), column]));
  return columns.map((column) => {
    const same = known.get(keyOf(table, column));
    if (!same) throw new AnswerError('question-invalid', 'These columns do not exist at that level. Open the member by another one.');
    return same;
  });
}

/** What stands in some rows and columns of a table, with what is drawn there. */
async function windowShown(
  context: AnswerContext,
  exhibit: Crosstab,
  table: ViewedTable,
  shownRows: VisibleNode[],
  shownColumns: VisibleNode[],
): Promise<ShownLines & Pick<CrosstabResponse, 'marks'>> {
  const { cube, rows, columns, cells, scope: conditioned } = table;
  const shown = await linesShown(context, exhibit, table, shownRows, shownColumns);
  const marked = exhibit.cells.some(({ marks }) => (marks?.length ?? 0) > 0);
  const marks = marked
    ? await marksIn(
        { cells, rows, columns },
        exhibit.cells,
        { rows: shownRows, columns: shownColumns, inRow: cellsInRow(exhibit, cube) },
        async (depth, field, measure) => {
          const through = { ...exhibit, ...throughPeriods(exhibit, depth, field, measure), conditions: [] };
          const depths = { side: cube.plan.side.length, top: depth + 1 };
          return (await prepareTable(context, through, conditioned, depths)).cube;
        },
      )
    : undefined;
  return { ...shown, ...(marks ? { marks } : {}) };
}

/** The cells as they stand in a row; lines that summarise what is shown summarise the measure itself. */
const cellsInRow =
  (exhibit: Crosstab, cube: Cube) =>
  (row: VisibleNode): (CellMeasure | null)[] =>
    exhibit.cells.map((cell) => (row.summary ? cell : cellInRow(cell, exhibit, cube.side.nodes[row.node].depth)));

/** Some lines of a table: their words, their values, and the states of their indicators. */
type ShownLines = Pick<CrosstabResponse, 'measures' | 'cells' | 'texts' | 'states' | 'bearings'> & {
  rows: Header[];
  columns: Header[];
};

/** What stands in some rows and columns of a table. */
export async function linesShown(
  context: AnswerContext,
  exhibit: Crosstab,
  { cube, selected, rows, columns, cells }: ViewedTable,
  shownRows: VisibleNode[],
  shownColumns: VisibleNode[],
): Promise<ShownLines> {
  const label = await labelsFor(context, [...cube.plan.side, ...cube.plan.top]);
  const inRow = cellsInRow(exhibit, cube);
  const each = <Value>(of: (row: VisibleNode, column: VisibleNode, cell: CellMeasure) => Value): (Value | null)[][] =>
    shownRows.map((row) => {
      const own = inRow(row);
      return shownColumns.flatMap((column) => own.map((cell) => (cell ? of(row, column, cell) : null)));
    });
  const indicated = exhibit.cells.some((cell) => cell.indicator);
  const shown = [...exhibit.cells, ...measuresInRows(exhibit).map((measure) => ({ measure }))];
  const hasTexts = shown.some((cell) => typeOf(cells, cell) !== 'number');
  return {
    rows: headers(context, label, cube.side, exhibit.side, shownRows, selected, 'side'),
    columns: headers(context, label, cube.top, exhibit.top, shownColumns, selected, 'top'),
    measures: exhibit.cells.map((cell) => measureLimits(cells, cell.measure, exhibit)),
    cells: each((row, column, cell) => orNull(shownValue(cells, cell, row, column))),
    ...(hasTexts ? { texts: each((row, column, cell) => textIn(cells, cell, row, column)) } : {}),
    ...(indicated ? await statesIn({ cells, rows, columns }, { rows: shownRows, columns: shownColumns, inRow }) : {}),
  };
}

/** A measure of a cross-tab through periods, below the first levels across its top. */
function throughPeriods({ top }: Crosstab, depth: number, field: string, measure: string): Pick<Crosstab, 'top' | 'cells'> {
  const above = top.fields.slice(0, depth);
  const levels = Object.fromEntries(Object.entries(top.levels).filter(([name]) => above.includes(name)));
  return { top: axisOver([...above.filter((name) => name !== field), field], { levels }), cells: [{ measure }] };
}

const typeOf = ({ plan }: CellReader, { measure }: CellMeasure): CellType => planMeasure(plan.dataset, measure).type;

/** The text that a cell shows, or its date as ISO 8601; null for numbers. */
function textIn(cube: CellReader, cell: CellMeasure, row: VisibleNode, column: VisibleNode): string | null {
  const value = shownCell(cube, cell, row, column);
  if (typeof value === 'string') return value;
  return value !== null && typeOf(cube, cell) === 'date' ? isoDate(value) : null;
}

/** How the members of each level that is shown compare: in their natural order, and by the fields that some order goes by. */
async function memberOrders(
  context: AnswerContext,
  { fields, levels, order: usual }: Axis,
  chosen: Order | null,
  depth: number,
): Promise<MemberOrder> {
  const shown = fields.slice(0, depth);
  const natural = await Promise.all(shown.map((field) => naturalOrder(context, field)));
  const byField = new Map<string, CompareMembers>();
  for (const [level, field] of shown.entries()) {
    for (const order of [chosen, usual, levels[field]?.order])
      if (order?.by === 'field') byField.set(`${level} ${order.field}`, await orderByField(context, field, order.field));
  }
  return {
    natural: (level, a, b) => natural[level].compare(a, b),
    naturalKey: (level, member) => natural[level].key(member),
    byField: (level, field, a, b) => byField.get(`${level} ${field}`)!(a, b),
  };
}

function headers(
  { dataset }: AnswerContext,
  label: MemberLabel,
  tree: AxisTree,
  { fields, levels }: Pick<Axis, 'fields' | 'levels'>,
  nodes: VisibleNode[],
  selected: SelectedMembers[],
  which: 'side' | 'top',
): Header[] {
  return nodes.map(({ node, role, depth, open, canOpen, summary, bare }) => {
    const path = tree.path(node);
    const labels = path.map(
      (member, level) =>
        combinedWords(dataset, fields[level], levels[fields[level]], member) ?? headerLabel(dataset, label, fields, path, level),
    );
    const header: Header = { path, role, depth, open, canOpen, labels, ...(summary ? { summary } : {}), ...(bare ? { bare } : {}) };
    if (path.at(-1) !== OTHERS) return header;
    const parent = tree.nodes[tree.nodes[node].parent];
    const shown = selected.find((one) => one.which === which && JSON.stringify(one.parent) === JSON.stringify(path.slice(0, -1)));
    const members = parent.children.filter((id) => !isCombined(tree.nodes[id].member)).length;
    return { ...header, others: members - (shown?.members.length ?? 0) };
  });
}

/** The year that a period belongs to, as its key begins: "2026" of "2026-03", "FY2026" of "FY2026-Q1". */
const yearOf = (key: string): string => key.split('-')[0];

/** A period under the heading of its very year leaves the year out; under any other member it says it. */
function headerLabel(dataset: Dataset, label: MemberLabel, fields: string[], path: readonly (string | null)[], level: number): string {
  const member = path[level];
  const place = fieldPlace(dataset, fields[level]);
  if (place.kind !== 'period' || member === null) return label(fields[level], member);
  const isUnderItsYear = path.slice(0, level).some((above, depth) => {
    const other = fieldPlace(dataset, fields[depth]);
    return above !== null && other.kind === 'period' && isSameDimension(other, place) && yearOf(above) === yearOf(member);
  });
  return periodLabel(place.level.period, member, 'en-GB', isUnderItsYear);
}

function measureLimits(cube: CellReader, name: string, exhibit: Crosstab): CrosstabResponse['measures'][number] {
  const planned = cube.plan.measures.find((measure) => measure.name === name)!;
  const parts = planned.parts.map((index) => cube.plan.parts[index]);
  const unanswered = parts.find((part) => part.query === null);
  const side = Math.min(
    exhibit.side.fields.length,
    ...parts.map((part) => (part.known.side < cube.plan.side.length ? part.known.side : Infinity)),
  );
  const top = Math.min(
    exhibit.top.fields.length,
    ...parts.map((part) => (part.known.top < cube.plan.top.length ? part.known.top : Infinity)),
  );
  const coarse = parts.find((part) => part.known.side < cube.plan.side.length || part.known.top < cube.plan.top.length);
  return {
    measure: name,
    side,
    top,
    available: !unanswered,
    reason:
      unanswered?.reason ??
      (coarse ? reasonBelow(cube.plan.dataset, coarse.fact, cube.plan.side[coarse.known.side] ?? cube.plan.top[coarse.known.top]) : ''),
  };
}
