import type { CrosstabRequest, CrosstabResponse, Header } from '@bold-compass/core/api';
import { periodLabel } from '@bold-compass/core/calendar';
import { depthNeeded, planCrosstab, visibleNodes, type AxisTree, type Cube, type VisibleNode } from '@bold-compass/core/crosstab';
import { stateOf } from '@bold-compass/core/indicators';
import { fieldPlace, type Crosstab, type Filter } from '@bold-compass/core/model';
import { LRUCache } from 'lru-cache';
import type { Desk } from '../data/index.ts';
import { askCube } from './cubes.ts';

export type CubeCache = LRUCache<string, Promise<Cube>>;
export const createCubeCache = (): CubeCache => new LRUCache({ max: 40 });

const clampNumber = (value: number): number | null => (Number.isNaN(value) ? null : value);

/** Answers a window of cells of a cross-tab, as opened and ordered. Throws CrosstabTooLargeError. */
export async function crosstabWindow(
  desk: Desk,
  cubes: CubeCache,
  exhibit: Crosstab,
  scope: Filter | null,
  request: CrosstabRequest,
): Promise<CrosstabResponse> {
  const started = performance.now();
  const depths = {
    side: depthNeeded(exhibit.side.fields.length, request.side.open),
    top: depthNeeded(exhibit.top.fields.length, request.top.open),
  };
  const extra = exhibit.cells.flatMap((cell) => (cell.indicator?.against.kind === 'measure' ? [cell.indicator.against.measure] : []));
  const plan = planCrosstab(desk.dataset, exhibit, scope, depths, extra);
  const key = JSON.stringify([
    desk.viewKey,
    plan.parts.map((part) => part.query),
    plan.side,
    plan.top,
    request.side.hideEmpty,
    request.top.hideEmpty,
  ]);
  let asked = cubes.get(key);
  if (!asked) {
    // Members without records are only asked for where they are to be shown.
    const all = (fields: string[], hidden: boolean): (string | null)[][] | null => (hidden ? null : desk.members(fields, scope));
    asked = askCube(desk, plan, { side: all(plan.side, request.side.hideEmpty), top: all(plan.top, request.top.hideEmpty) });
    cubes.set(key, asked);
    asked.catch(() => cubes.delete(key));
  }
  const cube = await asked;
  const axisOf = (which: 'side' | 'top'): VisibleNode[] => {
    const { fields, total } = exhibit[which];
    const { open, order, hideEmpty } = request[which];
    return visibleNodes(cube, which, { levels: fields.length, open, order, total, hideEmpty }, (level, a, b) =>
      desk.compareMembers(fields[level], a, b),
    );
  };
  const [rows, columns] = [axisOf('side'), axisOf('top')];
  const shownRows = rows.slice(request.rows.from, request.rows.from + request.rows.count);
  const shownColumns = columns.slice(request.columns.from, request.columns.from + request.columns.count);
  const cells = shownRows.map((row) =>
    shownColumns.flatMap((column) => exhibit.cells.map((cell) => clampNumber(cube.value(cell.measure, row.node, column.node)))),
  );
  const indicated = exhibit.cells.some((cell) => cell.indicator);
  return {
    rows: { total: rows.length, from: request.rows.from, items: headers(desk, cube.side, exhibit.side.fields, shownRows) },
    columns: { total: columns.length, from: request.columns.from, items: headers(desk, cube.top, exhibit.top.fields, shownColumns) },
    measures: exhibit.cells.map((cell) => measureLimits(cube, cell.measure, exhibit)),
    cells,
    ...(indicated
      ? {
          states: shownRows.map((row) =>
            shownColumns.flatMap((column) =>
              exhibit.cells.map(({ measure, indicator }) => {
                if (!indicator) return null;
                const target =
                  indicator.against.kind === 'value'
                    ? indicator.against.value
                    : cube.value(indicator.against.measure, row.node, column.node);
                return stateOf(cube.value(measure, row.node, column.node), target, indicator);
              }),
            ),
          ),
        }
      : {}),
    milliseconds: Math.round((performance.now() - started) * 10) / 10,
  };
}

function headers(desk: Desk, tree: AxisTree, fields: string[], nodes: VisibleNode[]): Header[] {
  return nodes.map(({ node, role, depth, open, canOpen }) => {
    const path = tree.path(node);
    return { path, role, depth, open, canOpen, labels: path.map((member, level) => headerLabel(desk, fields[level], member, level > 0)) };
  });
}

/** A period under the heading of its year leaves the year out. */
function headerLabel(desk: Desk, field: string, member: string | null, under: boolean): string {
  const place = fieldPlace(desk.dataset, field);
  if (place.kind === 'period' && member !== null) return periodLabel(place.level.period, member, 'en-GB', under);
  return desk.label(field, member);
}

function measureLimits(cube: Cube, name: string, exhibit: Crosstab): CrosstabResponse['measures'][number] {
  const planned = cube.plan.measures.find((measure) => measure.name === name)!;
  const parts = [...new Set(planned.slots.map((slot) => slot.part))].map((index) => cube.plan.parts[index]);
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
      (coarse ? `${coarse.fact.grain ?? `${coarse.fact.label} are kept at a coarser level`}, so there is no value here.` : ''),
  };
}
