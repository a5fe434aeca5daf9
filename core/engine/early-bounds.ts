import { numberTuples, type Grouping } from './grouping.ts';
import { holds } from './predicate.ts';
import { refuseTooLarge, type Query } from './query.ts';

interface BoundedQuery {
  query: Query;
  grouping: Grouping;
  /** Conditions that need the whole record. */
  tests: ((row: number) => number)[];
  rows: number;
}

/**
 * Refuses a table that would be too large before its groups are counted, which for very many of them takes a hundred times
 * as long as finding which members occur. It says the same as counting would: only where each axis looks at one table is the
 * number of its lines told by the members alone. Throws CrosstabTooLargeError.
 */
export function refuseEarly({ query: { bounds, sets }, grouping, tests, rows }: BoundedQuery): void {
  if (!bounds || grouping.dense) return;
  const partOf = (set: number): number =>
    grouping.parts.findIndex(({ levels }) => sets[set].length > 0 && sets[set].every((level) => levels.includes(level)));
  const asked = [...bounds.rows, ...bounds.columns];
  if (asked.some((set) => sets[set].length > 0 && partOf(set) < 0)) return;
  const occurring = occurringIn(grouping, tests, rows);
  refuseTooLarge(bounds, (set) => {
    if (sets[set].length === 0) return 1;
    const index = partOf(set);
    const part = grouping.parts[index];
    const columns = sets[set].map((level) => part.codes[part.levels.indexOf(level)]);
    return numberTuples(columns, (combination) => occurring[index][combination] === 1, part.size).size;
  });
}

/** Per part, 1 for each combination of members that some record has. */
function occurringIn({ parts }: Grouping, tests: ((row: number) => number)[], rows: number): Uint8Array[] {
  const occurring = parts.map(({ size }) => new Uint8Array(size));
  const found = new Int32Array(parts.length);
  next: for (let row = 0; row < rows; row++) {
    for (let part = 0; part < parts.length; part++) {
      const local = parts[part].local[parts[part].reference[row]];
      if (local < 0) continue next;
      found[part] = local;
    }
    for (const test of tests) if (!holds(test(row))) continue next;
    for (let part = 0; part < parts.length; part++) occurring[part][found[part]] = 1;
  }
  return occurring;
}
