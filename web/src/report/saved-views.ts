import type { SavedView } from '@bold-compass/core/api';
import type { LocationQuery, LocationQueryRaw } from 'vue-router';

/** The parts of an address that a view keeps: everything but being composed, and the figure that is chosen. */
export function queryOf(query: LocationQuery): SavedView['query'] {
  const kept: SavedView['query'] = {};
  for (const [key, value] of Object.entries(query)) {
    if (key === 'compose' || key.endsWith('.cell')) continue;
    kept[key] = (Array.isArray(value) ? value : [value]).map((one) => one ?? '');
  }
  return kept;
}

/** A view as an address. */
export const addressOf = (query: SavedView['query']): LocationQueryRaw => query;

/** What a report opens with where its address says nothing: the reader's own start; null where they have none. */
export function startingAddress(views: readonly SavedView[], query: LocationQuery): LocationQueryRaw | null {
  if (Object.keys(query).length > 0) return null;
  const start = views.find(({ isStart }) => isStart);
  return start ? addressOf(start.query) : null;
}
