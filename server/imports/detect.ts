import { BOOLEAN_BIT, shapesOf, type Reading } from '@bold-compass/core/imports';
import type { Row, RowBatches } from './row.ts';

const DELIMITERS = [',', ';', '\t', '|'] as const;

/** The delimiter that cuts the first lines most often into the same number of cells; those inside quotes do not count. */
export function delimiterOf(text: string): Reading['delimiter'] {
  const lines = text
    .split(/\r\n|\n|\r/)
    .slice(0, 30)
    .filter((line) => line !== '');
  const scores = DELIMITERS.map((delimiter) => {
    const counts = lines.map((line) => line.replaceAll(/"(?:[^"]|"")*"/g, '').split(delimiter).length - 1).filter((count) => count > 0);
    const same = Math.max(0, ...counts.map((count) => counts.filter((other) => other === count).length));
    return same * 1000 + Math.max(0, ...counts);
  });
  const best = Math.max(...scores);
  return best === 0 ? ',' : DELIMITERS[scores.indexOf(best)];
}

/**
 * The row of the names: the first as wide as most rows, below any title lines; 0 where that row holds numbers or dates,
 * as names do not.
 */
export async function detectHeaderRow(batches: RowBatches): Promise<number> {
  const { value: batch } = await batches.next();
  await batches.return(undefined);
  const first = ((batch ?? []) as Row[]).slice(0, 40);
  if (first.length === 0) return 1;
  const usual = first.map(({ cells }) => cells.length).toSorted((a, b) => a - b)[Math.floor(first.length / 2)];
  const names = first.find(({ cells }) => cells.length > usual / 2) ?? first[0];
  const isValue = (cell: string): boolean => (shapesOf(cell) & ~BOOLEAN_BIT) !== 0 && !/^(19|20)\d\d$/.test(cell);
  return names.cells.some((cell) => cell.trim() !== '' && isValue(cell.trim())) ? 0 : names.row;
}
