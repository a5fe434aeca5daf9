import type { Path, ViewState, Watched } from '../api/index.ts';
import { branchOf, pathKey, readPath, withAggregations, type AxisTree, type OpenState, type VisibleNode } from '../crosstab/index.ts';
import { figureText } from '../format/index.ts';
import type { State } from '../indicators/index.ts';
import { withMarkMeasures } from '../marks/index.ts';
import { findMeasure, measureNamed, type Crosstab, type Kpi, type KpiStrip } from '../model/index.ts';
import { placedInBranch } from './branches.ts';
import type { AnswerContext } from './context.ts';
import { linesShown, viewedTable } from './crosstab-window.ts';
import { AnswerError } from './errors.ts';
import { placedCell } from './explanation.ts';
import { kpiValues } from './kpis.ts';
import type { IsVisiblePath } from '../exhibits/index.ts';
import { askedFilter, type Asked } from './scope.ts';
import { samePath } from '../table/index.ts';

/** Where a figure stands, with the figure in words. */
export interface Reading {
  state: State;
  value: string;
}

const notThere = (): AnswerError => new AnswerError('scope-unknown', 'This figure is not there any more, or has no indicator.');

/** Where a KPI, or a judged cell of a cross-tab, stands. Throws AnswerError where there is no such figure for the reader. */
export async function readingOf(
  context: AnswerContext,
  exhibit: Crosstab | KpiStrip,
  asked: Asked,
  watched: Watched,
  isVisible: IsVisiblePath,
): Promise<Reading> {
  if (exhibit.kind === 'kpis') {
    const kpi = 'kpi' in watched ? exhibit.kpis.find(({ id }) => id === watched.kpi) : undefined;
    if (!kpi) throw notThere();
    return kpiReading(context, exhibit, kpi, asked);
  }
  if ('kpi' in watched) throw notThere();
  const cellPlace = { ...watched, side: readPath(watched.side), top: readPath(watched.top) };
  const { exhibit: placed, request: place } = placedInBranch(exhibit, cellPlace);
  const own = withAggregations(context.dataset, placed);
  const cell = own.exhibit.cells.find(({ measure }) => measure === watched.measure);
  const { indicator } = cell ?? {};
  if (!cell || !indicator) throw notThere();
  const { side, top } = placed;
  if (!(await isVisible(side.fields, place.side)) || !(await isVisible(top.fields, place.top))) throw notThere();
  const whole = { ...context, dataset: withMarkMeasures(own.dataset, own.exhibit.cells) };
  if (indicator.by === 'spread' || indicator.against.kind === 'average') {
    const branch = branchOf(exhibit, cellPlace.side);
    const open = branch ? openAlong(place.side, branch.path.length) : openTo(place.side);
    return readingAmongOthers(whole, own.exhibit, asked, place, open);
  }
  const { filter } = await placedCell(whole, own.exhibit, asked, place);
  const kpi: Kpi = { id: 'cell', label: '', measure: cell.measure, format: cell.format, indicator, words: '', show: 'figure' };
  const strip = { kind: 'kpis', id: 'cell', title: 'Cell', width: 12, note: '', filter, kpis: [kpi] } as const;
  return kpiReading(whole, { ...strip, kpis: [kpi] }, kpi, { scope: {}, where: null });
}

/** All members open that are above the level of a path. */
const openTo = (path: Path): OpenState => ({ depth: Math.max(0, path.length - 1), exceptions: [] });
/** A member opened by a level of its own, `depth` members down a path, and what is above the path below it: its neighbours stay closed. */
const openAlong = (path: Path, depth: number): OpenState => ({
  depth: depth - 1,
  exceptions: Array.from({ length: path.length - depth }, (_, index) => pathKey(path.slice(0, depth + index))),
});

/** A cell that is judged against those beside it, in a table in which all of these are shown. */
async function readingAmongOthers(
  context: AnswerContext,
  exhibit: Crosstab,
  asked: Asked,
  { side, top, measure }: Exclude<Watched, { kpi: string }>,
  openSide: OpenState,
): Promise<Reading> {
  const shown = ({ hideEmpty }: Crosstab['side'], open: OpenState): ViewState['side'] => ({ open, order: null, hideEmpty });
  const viewState = { side: shown(exhibit.side, openSide), top: shown(exhibit.top, openTo(top)) };
  const table = await viewedTable(context, exhibit, askedFilter(asked), viewState);
  const at = (lines: readonly VisibleNode[], tree: AxisTree, path: Path): VisibleNode | undefined =>
    lines.find(({ node, role }) => role !== 'summary' && samePath(tree.path(node), path));
  const [row, column] = [at(table.rows, table.cube.side, side), at(table.columns, table.cube.top, top)];
  if (!row || !column) throw notThere();
  const { cells, states } = await linesShown(context, exhibit, table, [row], [column]);
  const position = exhibit.cells.findIndex((one) => one.measure === measure);
  const { format } = exhibit.cells[position];
  const value = figureText(cells[0][position], format ?? measureNamed(context.dataset, measure).format, context.locale);
  return { state: states?.[0][position] ?? 'none', value };
}

async function kpiReading(context: AnswerContext, strip: KpiStrip, kpi: Kpi, asked: Asked): Promise<Reading> {
  const measure = findMeasure(context.dataset, kpi.measure);
  if (!measure) throw notThere();
  const plain = { ...kpi, trend: undefined, rollUp: undefined };
  const [{ state, value }] = await kpiValues(context, { ...strip, kpis: [plain] }, askedFilter(asked));
  return { state, value: figureText(value, kpi.format ?? measure.format, context.locale) };
}
