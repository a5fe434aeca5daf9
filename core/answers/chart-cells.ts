import type { ChartRequest, ChartResponse, Header } from '../api/index.ts';
import { chartKindOf } from '../chart/index.ts';
import { pathKey, type VisibleNode } from '../crosstab/index.ts';
import { seriesName, type ChartSettings, type Crosstab, type Filter } from '../model/index.ts';
import { chartForecast } from './chart-forecast.ts';
import { alongTime, MOST_VALUES } from './chart-periods.ts';
import { naturalOrder, type AnswerContext } from './context.ts';
import { linesShown, viewedTable } from './crosstab-window.ts';
import { AnswerError } from './errors.ts';
import { orNull } from './numbers.ts';

type Path = readonly (string | null)[];

const isBelow = (path: Path, root: Path): boolean => root.every((member, level) => path[level] === member);

/** A line whose own figures are drawn: a member that shows no members below it, or the total where there are no members. */
const isInnermost = ({ role, open, bare }: VisibleNode, hasLevels: boolean): boolean =>
  hasLevels ? role === 'member' && !open && !bare : role === 'total';

/** The member that a reader opened, where they look at what is below it alone: the innermost one of a chain. */
function rootOf({ depth, exceptions }: ChartRequest['side']['open'], opened: readonly Path[]): Path {
  if (depth > 0 || exceptions.length === 0) return [];
  return opened.reduce<Path>((longest, path) => (path.length > longest.length ? path : longest), []);
}

/** The places of some members among all of their level, in its natural order. */
async function placesOf(context: AnswerContext, fields: string[], headers: readonly Header[]): Promise<number[] | null> {
  const field = fields.at(-1);
  if (field === undefined) return null;
  const [members, order] = await Promise.all([context.data.members([field], null), naturalOrder(context, field)]);
  const sorted = (members ?? []).map(([member]) => member).sort((a, b) => order.compare(a, b));
  const places = new Map(sorted.map((member, place) => [member, place]));
  return headers.map(({ path }, column) => places.get(path.at(-1) ?? null) ?? column);
}

/** The fields of the side down to that of its members; none where these are of several levels, which have no place in common. */
function fieldsShown({ side }: Crosstab, headers: readonly Header[]): string[] {
  const [depth = 0, ...others] = new Set(headers.map(({ path }) => path.length));
  return others.length > 0 ? [] : side.fields.slice(0, depth);
}

/**
 * What a chart of a cross-tab draws: where the innermost members that stand open meet. Where a reader opened a member of the
 * outermost level, it is drawn alone. Throws CrosstabTooLargeError, AnswerError `too-large`.
 */
export async function chartCells(
  context: AnswerContext,
  exhibit: Crosstab,
  scope: Filter | null,
  request: ChartRequest,
  { kind, colours, forecast, inStepWith, emptyPeriods, series, through }: Omit<ChartSettings, 'map'>,
): Promise<ChartResponse> {
  const started = performance.now();
  const table = await viewedTable(context, exhibit, scope, request);
  const { cube, cells } = table;
  const pathOf = ({ node }: VisibleNode): Path => cube.side.path(node);
  const opened = table.rows.filter(({ role, open }) => role === 'member' && open).map(pathOf);
  // In step with a table, what stands open there is drawn beside what does not.
  const root = inStepWith === undefined ? rootOf(request.side.open, opened) : [];
  const rows = table.rows.filter((row) => isInnermost(row, exhibit.side.fields.length > 0) && isBelow(pathOf(row), root));
  const columns = table.columns.filter((column) => isInnermost(column, exhibit.top.fields.length > 0));
  if (rows.length * columns.length * exhibit.cells.length > MOST_VALUES)
    throw new AnswerError(
      'too-large',
      `This chart would draw ${rows.length} members in ${columns.length} series, which nobody can tell apart. Show fewer levels, or only the top members.`,
    );
  const shown = await linesShown(context, exhibit, table, rows, columns);
  const whole = cube.side.find(root);
  const total = cube.top.find([]);
  const places = colours === 'member' ? await placesOf(context, exhibit.top.fields.slice(0, cube.plan.top.length), shown.columns) : null;
  const { columns: columnHeaders, measures } = shown;
  const timed = chartKindOf(kind).timeAxis
    ? await alongTime(context, exhibit, shown, { scope: table.scope, root, order: request.side.order, emptyPeriods })
    : null;
  const { rows: rowHeaders, ...values } = timed?.drawn ?? shown;
  const hasNoSeries = colours === 'member' && exhibit.top.fields.length === 0;
  const memberPlaces = hasNoSeries ? await placesOf(context, fieldsShown(exhibit, rowHeaders), rowHeaders) : null;
  /** Whether settings say nothing against forecasting a series. */
  const isAsked = (at: number): boolean => {
    const { path } = columnHeaders[Math.floor(at / exhibit.cells.length)];
    const key = seriesName(exhibit.cells[at % exhibit.cells.length].measure, pathKey(through ? path.slice(1) : path));
    return series[key]?.forecast !== false;
  };
  return {
    ...values,
    measures,
    rows: { total: rowHeaders.length, from: 0, items: rowHeaders },
    columns: { total: columns.length, from: 0, items: columnHeaders },
    root: { path: [...root], labels: (rowHeaders[0]?.labels ?? []).slice(0, root.length) },
    totals: exhibit.cells.map(({ measure }) => (whole && total ? orNull(cells.value(measure, whole.id, total.id)) : null)),
    ...(places ? { places } : {}),
    ...(memberPlaces ? { memberPlaces } : {}),
    ...(forecast ? { forecast: chartForecast(context, exhibit, rowHeaders, values.cells, forecast, { cut: timed?.cut, isAsked }) } : {}),
    ...(timed ? { cut: timed.cut, zeros: timed.zeros } : {}),
    milliseconds: Math.round((performance.now() - started) * 10) / 10,
  };
}
