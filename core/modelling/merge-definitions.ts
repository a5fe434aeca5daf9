import type { Dataset } from '../model/index.ts';

type Json = unknown;

const isRecord = (value: Json): value is Record<string, Json> => typeof value === 'object' && value !== null && !Array.isArray(value);
const isSame = (a: Json, b: Json): boolean => JSON.stringify(a) === JSON.stringify(b);
const nameOf = (value: Json): string | undefined => (isRecord(value) && typeof value.name === 'string' ? value.name : undefined);
/** A list of parts that each have a name of their own. */
const isNamed = (value: Json): value is Json[] =>
  Array.isArray(value) && value.every((one) => nameOf(one) !== undefined) && new Set(value.map(nameOf)).size === value.length;

/** What two people made of one definition, put together; `conflicts` are the names of what both changed in different ways. */
export interface MergedDefinition {
  merged: Dataset;
  conflicts: string[];
}

/**
 * Merges two states that came from the same base, part by part: what only one of them changed is as it changed it. Of what
 * both changed in different ways the own state stands, and a conflict is reported.
 */
export function mergeDefinitions(base: Dataset, own: Dataset, other: Dataset): MergedDefinition {
  const conflicts = new Set<string>();
  const merge = (before: Json, ours: Json, theirs: Json, within: string): Json => {
    if (isSame(ours, theirs) || isSame(theirs, before)) return ours;
    if (isSame(ours, before)) return theirs;
    if (isRecord(ours) && isRecord(theirs)) {
      const old = isRecord(before) ? before : {};
      const keys = [...new Set([...Object.keys(ours), ...Object.keys(theirs)])];
      return Object.fromEntries(
        keys.flatMap((key) => {
          const value = merge(old[key], ours[key], theirs[key], nameOf(ours) ?? within);
          return value === undefined ? [] : [[key, value]];
        }),
      );
    }
    if (isNamed(ours) && isNamed(theirs)) return mergeNamed(isNamed(before) ? before : [], ours, theirs);
    conflicts.add(within);
    return ours;
  };
  const mergeNamed = (before: Json[], ours: Json[], theirs: Json[]): Json[] => {
    const find = (list: Json[], name: string): Json => list.find((one) => nameOf(one) === name);
    const kept = ours.flatMap((one): Json[] => {
      const name = nameOf(one)!;
      const [old, their] = [find(before, name), find(theirs, name)];
      // Removed there: gone, unless it was changed here.
      if (their === undefined && old !== undefined) {
        if (isSame(old, one)) return [];
        conflicts.add(name);
        return [one];
      }
      return [their === undefined ? one : merge(old, one, their, name)];
    });
    const added = theirs.filter((one) => {
      const name = nameOf(one)!;
      if (find(ours, name) !== undefined) return false;
      const old = find(before, name);
      if (old !== undefined && !isSame(old, one)) conflicts.add(name);
      return old === undefined;
    });
    return [...kept, ...added];
  };
  return { merged: merge(base, own, other, base.name) as Dataset, conflicts: [...conflicts] };
}
