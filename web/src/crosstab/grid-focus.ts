import type { Header } from '@bold-compass/core/api';
import { canChoose, samePath, type CrosstabTable, type TableMeasure } from '@bold-compass/core/table';
import { computed, nextTick, ref, watch, type Ref } from 'vue';
import type { ChosenCell } from '../report/url-state.ts';
import type { Cells } from './windows.ts';

/** Stands for "the keyboard, or the choice, is in another row". */
export const NOT_HERE = -2;

/** A grid as its keyboard meets it. */
interface FocusedGrid {
  table: Ref<CrosstabTable>;
  /** Measures beside each other in a column. */
  beside: Ref<number>;
  cells: Ref<Cells>;
  chosen: Ref<ChosenCell | null>;
  /** Lines that a page of the keyboard goes. */
  page(): number;
  /** Brings a line and a column into view; null stands for the labels. */
  show(line: number, column: number | null): void;
  onChoose(cell: ChosenCell): void;
  onToggle(header: Header): void;
  /** A key that the grid itself does nothing for, with where it was struck; the measure is null on a label. */
  onKey(event: KeyboardEvent, at: { row: Header | undefined; column: Header | undefined; measure: string | null }): void;
}

/** The chosen cell of a grid, and the one that has the keyboard (WAI-ARIA Authoring Practices, treegrid). */
export function useGridFocus(grid: FocusedGrid) {
  const { table, beside, cells } = grid;
  /** Line, and flattened column: -1 stands on the row's label. */
  const focus = ref({ row: 0, column: -1 });
  const lastColumn = computed(() => cells.value.columnCount * beside.value - 1);
  const columnOf = (flat: number): number => Math.floor(flat / beside.value);
  const headerAt = (line: number): Header | undefined => table.value.headerOf(line);
  const isAt = (header: Header | undefined, path: Header['path']): boolean => canChoose(header) && samePath(header.path, path);
  function measureAt(line: number, flat: number): TableMeasure {
    const { measures, stacked, linesPerRow } = table.value;
    return measures[stacked ? line % linesPerRow : flat % beside.value];
  }

  /** The flattened column of the chosen cell in a line. */
  function chosenIn(line: number): number {
    const cell = grid.chosen.value;
    const { measures, stacked, linesPerRow } = table.value;
    if (!cell || !isAt(headerAt(line), cell.side)) return NOT_HERE;
    const column = cells.value.columns.findIndex((one) => isAt(one, cell.top));
    const measure = measures.findIndex(({ name }) => name === cell.measure);
    if (column < 0 || measure < 0 || (stacked && measure !== line % linesPerRow)) return NOT_HERE;
    return column * beside.value + (stacked ? 0 : measure);
  }
  function choose(row: number, column: number): void {
    focus.value = { row, column };
    const [header, top] = [headerAt(row), cells.value.columns[columnOf(column)]];
    if (column >= 0 && canChoose(header) && canChoose(top))
      grid.onChoose({ side: header.path, top: top.path, measure: measureAt(row, column).name });
  }

  /** After the rows changed, the keyboard stays on the member it was on. */
  let focusedPath: readonly (string | null)[] = [];
  watch(focus, ({ row }) => (focusedPath = headerAt(row)?.path ?? []));
  watch(cells, (now, before) => {
    if (now.key === before.key) return;
    const row = now.rows.findIndex((header) => header && samePath(header.path, focusedPath));
    const { linesPerRow, lineCount } = table.value;
    focus.value = {
      row: row >= 0 ? row * linesPerRow : Math.min(focus.value.row, lineCount - 1),
      column: Math.min(focus.value.column, lastColumn.value),
    };
  });

  function move(row: number, column: number): void {
    const next = {
      row: Math.max(0, Math.min(table.value.lineCount - 1, row)),
      column: Math.max(-1, Math.min(lastColumn.value, column)),
    };
    focus.value = next;
    grid.show(next.row, next.column >= 0 ? columnOf(next.column) : null);
    void nextTick(() => next.column >= 0 && grid.chosen.value !== null && choose(next.row, next.column));
  }

  function onKey(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest('.grid-head')) return;
    const { row, column } = focus.value;
    const header = headerAt(row);
    const onLabel = column < 0;
    const steps: Record<string, () => void> = {
      ArrowDown: () => move(row + 1, column),
      ArrowUp: () => move(row - 1, column),
      ArrowRight: () => (onLabel && header?.canOpen && !header.open ? grid.onToggle(header) : move(row, column + 1)),
      ArrowLeft: () => (onLabel && header?.open ? grid.onToggle(header) : move(row, column - 1)),
      PageDown: () => move(row + grid.page(), column),
      PageUp: () => move(row - grid.page(), column),
      Home: () => move(row, -1),
      End: () => move(row, lastColumn.value),
      ' ': () => (onLabel ? header?.canOpen && grid.onToggle(header) : choose(row, column)),
    };
    const step = steps[event.key];
    if (step) {
      event.preventDefault();
      step();
      return;
    }
    const measure = onLabel ? null : measureAt(row, column).name;
    grid.onKey(event, { row: header, column: cells.value.columns[columnOf(column)], measure });
  }

  return { focus, lastColumn, chosenIn, choose, isAt, onKey };
}
