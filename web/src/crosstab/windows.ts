import { crosstabResponseSchema, type CrosstabRequest, type CrosstabResponse, type Header } from '@bold-compass/core/api';
import { markIn, type CrosstabCells } from '@bold-compass/core/table';
import { computed, shallowRef, type Ref } from 'vue';
import { useBlocks } from '../api/blocks.ts';
import { ask } from '../api/client.ts';

/** Rows and columns that one request brings. */
const BLOCK_ROWS = 80;
const BLOCK_COLUMNS = 40;

/** The part of the cross-tab that is in view. */
export interface Viewport {
  firstRow: number;
  lastRow: number;
  firstColumn: number;
  lastColumn: number;
}

export type Question = Omit<CrosstabRequest, 'rows' | 'columns'>;

/** The cells of one state of a cross-tab, as far as they have been fetched. */
export interface Cells extends CrosstabCells {
  key: string;
  /** The smallest and the largest value of each measure among what was fetched: they have the longest texts. */
  extremes: readonly Extremes[];
}

export interface Extremes {
  least: number;
  most: number;
  /** The longest text, where the measure gives texts. */
  longest: string;
}

interface Block {
  row: number;
  column: number;
}

const blockKey = ({ row, column }: Block): string => `${row}/${column}`;

function blocksIn(view: Viewport): Block[] {
  const blocks: Block[] = [];
  for (let row = Math.floor(view.firstRow / BLOCK_ROWS); row <= Math.floor(view.lastRow / BLOCK_ROWS); row++) {
    for (let column = Math.floor(view.firstColumn / BLOCK_COLUMNS); column <= Math.floor(view.lastColumn / BLOCK_COLUMNS); column++)
      blocks.push({ row, column });
  }
  return blocks;
}

const NO_EXTREMES: Extremes = { least: Infinity, most: -Infinity, longest: '' };

function extremesOf({ cells, texts, measures }: CrosstabResponse): Extremes[] {
  const found = measures.map(() => ({ ...NO_EXTREMES }));
  for (const row of texts ?? [])
    row.forEach((text, index) => {
      const own = found[index % measures.length];
      if (text !== null && text.length > own.longest.length) own.longest = text;
    });
  for (const row of cells) {
    row.forEach((value, index) => {
      if (value === null) return;
      const own = found[index % measures.length];
      if (value < own.least) own.least = value;
      if (value > own.most) own.most = value;
    });
  }
  return found;
}

/** Extremes of two parts of the same cross-tab. */
const widest = (a: readonly Extremes[], b: readonly Extremes[]): Extremes[] =>
  b.map((own, index) => {
    const { least, most, longest } = a[index] ?? NO_EXTREMES;
    return {
      least: Math.min(least, own.least),
      most: Math.max(most, own.most),
      longest: longest.length > own.longest.length ? longest : own.longest,
    };
  });

function gather(key: string, blocks: Map<string, CrosstabResponse>, extremes: readonly Extremes[]): Cells {
  const [first] = blocks.values();
  const rows: (Header | undefined)[] = new Array<Header | undefined>(first.rows.total).fill(undefined);
  const columns: (Header | undefined)[] = new Array<Header | undefined>(first.columns.total).fill(undefined);
  for (const block of blocks.values()) {
    block.rows.items.forEach((header, index) => (rows[block.rows.from + index] = header));
    block.columns.items.forEach((header, index) => (columns[block.columns.from + index] = header));
  }
  const find = (row: number, column: number): CrosstabResponse | undefined =>
    blocks.get(blockKey({ row: Math.floor(row / BLOCK_ROWS), column: Math.floor(column / BLOCK_COLUMNS) }));
  const width = first.measures.length;
  const at = (column: number, measure: number): number => (column % BLOCK_COLUMNS) * width + measure;
  return {
    key,
    rowCount: first.rows.total,
    columnCount: first.columns.total,
    rows,
    columns,
    measures: first.measures,
    extremes,
    value(row, column, measure) {
      const block = find(row, column);
      const [line, place] = [row % BLOCK_ROWS, at(column, measure)];
      return block?.texts?.[line]?.[place] ?? block?.cells[line]?.[place];
    },
    state: (row, column, measure) => find(row, column)?.states?.[row % BLOCK_ROWS]?.[at(column, measure)] ?? null,
    bearing: (row, column, measure) => find(row, column)?.bearings?.[row % BLOCK_ROWS]?.[at(column, measure)] ?? null,
    mark(row, column, measure, index) {
      const block = find(row, column);
      return block ? markIn(block, row % BLOCK_ROWS, column % BLOCK_COLUMNS, measure, index) : null;
    },
  };
}

/** Fetches the windows of cells that come into view. */
export function useWindows(path: Ref<string>, version: Ref<string>, question: Ref<Question>, viewport: Ref<Viewport>) {
  const cells = shallowRef<Cells | null>(null);
  let blocks = new Map<string, CrosstabResponse>();
  const fetched = useBlocks<Block, CrosstabResponse>('crosstab', {
    key: computed(() => JSON.stringify([path.value, version.value, question.value])),
    wanted: () => blocksIn(viewport.value),
    id: blockKey,
    has: (key, block) => cells.value?.key === key && blocks.has(blockKey(block)),
    ask(block, signal) {
      const body: CrosstabRequest = {
        ...question.value,
        rows: { from: block.row * BLOCK_ROWS, count: BLOCK_ROWS },
        columns: { from: block.column * BLOCK_COLUMNS, count: BLOCK_COLUMNS },
      };
      return ask(crosstabResponseSchema, 'POST', path.value, body, signal);
    },
    take(key, block, answer) {
      const before = cells.value?.key === key ? cells.value.extremes : [];
      if (cells.value?.key !== key) blocks = new Map();
      blocks.set(blockKey(block), answer);
      cells.value = gather(key, blocks, widest(before, extremesOf(answer)));
    },
  });
  return { cells, ...fetched };
}
