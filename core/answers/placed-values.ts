import { CrosstabTooLargeError } from '../engine/index.ts';
import { goesByPlace, planMeasure } from '../formula/index.ts';
import type { CellReader } from '../crosstab/index.ts';
import type { Crosstab, Filter } from '../model/index.ts';
import { measuresUnder, recordsBehind, type MeasuredValue } from './cells.ts';
import type { AnswerContext } from './context.ts';
import { composedViewState, prepareTable, viewedTable } from './crosstab-window.ts';
import type { CellPlace } from './drill-through.ts';

/**
 * The values of measures in a cell of a cross-tab. Most follow from the conditions of the cell (`cell`) alone; a formula that
 * goes by where it stands is calculated in the table itself, under the conditions of the reader (`scope`).
 */
export async function valuesInCell(
  context: AnswerContext,
  exhibit: Crosstab,
  measures: string[],
  place: CellPlace,
  scope: Filter | null,
  cell: Filter | null,
): Promise<Map<string, MeasuredValue>> {
  const placed = measures.filter((measure) => goesByPlace(planMeasure(context.dataset, measure).cell));
  const [values, table] = await Promise.all([
    measuresUnder(
      context,
      measures.filter((measure) => !placed.includes(measure)),
      cell,
    ),
    placed.length === 0 ? null : tableAt(context, exhibit, placed, place, scope),
  ]);
  const { side, top } = place;
  for (const name of placed) {
    const [row, column] = [table?.side.find(side)?.id, table?.top.find(top)?.id];
    const value = table && row !== undefined && column !== undefined ? table.cell(name, row, column) : null;
    const parts = table?.plan.measures.find((measure) => measure.name === name)?.parts ?? [];
    values.set(name, {
      value: typeof value === 'number' ? value : Number.NaN,
      text: typeof value === 'string' ? value : null,
      reason: table && row !== undefined && column !== undefined ? table.reason(name, row, column) : 'There are no records here.',
      records: table && row !== undefined && column !== undefined ? recordsBehind(table, parts, row, column) : [],
    });
  }
  return values;
}

/** The table as it stands, or, where the cell is not shown there, calculated down to the cell. */
async function tableAt(
  context: AnswerContext,
  exhibit: Crosstab,
  measures: string[],
  place: CellPlace,
  scope: Filter | null,
): Promise<CellReader> {
  const own = { ...exhibit, cells: measures.map((measure) => ({ measure })) };
  try {
    const { cells } = await viewedTable(context, own, scope, place.viewState ?? composedViewState(exhibit));
    if (cells.side.find(place.side) && cells.top.find(place.top)) return cells;
  } catch (error) {
    if (!(error instanceof CrosstabTooLargeError)) throw error;
  }
  return (await prepareTable(context, own, scope, { side: place.side.length, top: place.top.length })).cube;
}
