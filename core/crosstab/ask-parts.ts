import type { AggregateCall, Query, QueryResult } from '../engine/index.ts';
import type { FactPart } from './plan.ts';

/** Queries over the same records, asked as one: these are then read once. */
interface Merged {
  query: Query;
  /** For each of them: the place of its levels, sets and aggregates in the merged query. */
  members: { part: number; levels: number[]; sets: number[]; aggregates: number[] }[];
}

/** What queries have to share to be asked as one. */
const sharedBy = ({ fact, filter, frame }: Query): string => JSON.stringify([fact, filter, frame?.calendar ?? null]);

/** Adds what is not there yet; returns where it stands. */
function placeIn<Item>(list: Item[], item: Item, idOf: (item: Item) => string): number {
  const id = idOf(item);
  const found = list.findIndex((one) => idOf(one) === id);
  return found >= 0 ? found : list.push(item) - 1;
}

/** How often a level stands before a place of a list: where dates are cut anew, a period is there twice. */
const timesBefore = (levels: readonly string[], at: number): number => levels.slice(0, at).filter((level) => level === levels[at]).length;

/** The place of one of the occurrences of a level, counted from 0; it is added where it is not there yet. */
function placeOfLevel(levels: string[], level: string, occurrence: number): number {
  const places = levels.flatMap((one, at) => (one === level ? [at] : []));
  return places[occurrence] ?? levels.push(level) - 1;
}

function merged(parts: readonly Pick<FactPart, 'query'>[]): Merged[] {
  const groups = new Map<string, Merged>();
  parts.forEach(({ query }, part) => {
    if (!query) return;
    let group = groups.get(sharedBy(query));
    if (!group) {
      const { fact, filter, frame } = query;
      const empty: Query = {
        fact,
        filter,
        levels: [],
        sets: [],
        aggregates: [],
        ...(frame ? { frame: { calendar: frame.calendar, sets: [] } } : {}),
      };
      groups.set(sharedBy(query), (group = { query: empty, members: [] }));
    }
    const whole = group.query;
    const levels = query.levels.map((level, at) => placeOfLevel(whole.levels, level, timesBefore(query.levels, at)));
    const aggregates = query.aggregates.map((call) => placeIn<AggregateCall>(whole.aggregates, call, JSON.stringify));
    const sets = query.sets.map((set, index) => {
      const own = set.map((level) => levels[level]);
      // The same set under another frame is another set.
      if (!whole.frame) return placeIn(whole.sets, own, (one) => [...one].sort((a, b) => a - b).join());
      whole.frame.sets.push(query.frame!.sets[index]);
      return whole.sets.push(own) - 1;
    });
    if (query.bounds) {
      const { rows, columns, cells, lines } = query.bounds;
      whole.bounds = { rows: rows.map((set) => sets[set]), columns: columns.map((set) => sets[set]), cells, lines };
    }
    group.members.push({ part, levels, sets, aggregates });
  });
  return [...groups.values()];
}

/** Asks the queries of parts, those over the same records as one, and takes the answers apart again; null for parts without one. */
export async function askQueries(
  parts: readonly Pick<FactPart, 'query'>[],
  ask: (query: Query) => Promise<QueryResult>,
): Promise<(QueryResult | null)[]> {
  const answers = parts.map((): QueryResult | null => null);
  await Promise.all(
    merged(parts).map(async ({ query, members }) => {
      const whole = await ask(query);
      for (const { part, levels, sets, aggregates } of members) {
        answers[part] = {
          members: levels.map((level) => whole.members[level]),
          sets: sets.map((index) => {
            const set = whole.sets[index];
            return { ...set, levels: set.levels.map((level) => levels.indexOf(level)), values: aggregates.map((at) => set.values[at]) };
          }),
        };
      }
    }),
  );
  return answers;
}
