import type { JoinCheck } from '@bold-compass/core/api';
import type { TableJoin } from './joined-query.ts';
import { figure } from './use-import.ts';

/** What the data says of a join, in words; `refused` where it would count records more than once. */
export function joinWords(
  { named, missing, doubled, examples }: JoinCheck,
  { table, of, key }: Pick<TableJoin, 'table' | 'of' | 'key'>,
): { refused: boolean; words: string } {
  if (doubled > 0) {
    const some = `${figure(doubled)} ${doubled === 1 ? 'value' : 'values'} of ${key} ${doubled === 1 ? 'stands' : 'stand'} in several rows of ${table} (${examples.join(', ')})`;
    return {
      refused: true,
      words: `${some}: rows of ${of} would be there several times, and sums too large. Start from ${table}, or choose a column that each row has once.`,
    };
  }
  if (missing === 0) return { refused: false, words: `Many to one; each of the ${figure(named)} that are named is there.` };
  return {
    refused: false,
    words: `Many to one. ${figure(missing)} of ${figure(named)} rows name one that is not there: they stay, with nothing of ${table}.`,
  };
}
