import { useSessionStorage, type RemovableRef } from '@vueuse/core';
import { effectScope } from 'vue';
import { ownKey } from '../shell/own-storage.ts';

/** A report that somebody came through, with its address as it was left. */
export interface Crumb {
  title: string;
  path: string;
}

const MOST_CRUMBS = 8;

const known = new Map<string, RemovableRef<Record<string, Crumb[]>>>();

/** The reports that led to each report, the first one first, as long as the tab is open. */
function trails(): RemovableRef<Record<string, Crumb[]>> {
  const key = ownKey('trail');
  let own = known.get(key);
  // Kept beyond the page that asks first.
  if (!own) known.set(key, (own = effectScope(true).run(() => useSessionStorage<Record<string, Crumb[]>>(key, {}))!));
  return own;
}

/** The reports that led to a report. */
export const trailTo = (report: string): Crumb[] => trails().value[report] ?? [];

/** Keeps that a report was reached from another one. */
export function keepTrail(report: string, from: string, crumb: Crumb): void {
  const before = trailTo(from);
  trails().value = { ...trails().value, [report]: [...before, crumb].slice(-MOST_CRUMBS) };
}

/** Goes back to a crumb: what came after it is no trail any more. */
export function cutTrail(report: string, length: number): void {
  trails().value = { ...trails().value, [report]: trailTo(report).slice(0, length) };
}
