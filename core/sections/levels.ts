import { fieldsAbove, findField, type Dataset } from '../model/index.ts';
import type { Section } from './choices.ts';

/**
 * The levels of an axis that say something in a section. The level that the sections go by, and those above it, would show one
 * member, which is the section itself; where nothing else is there they stay.
 */
export function levelsLeft(dataset: Dataset, fields: readonly string[], sections: readonly Section[]): string[] {
  const single = new Set(
    sections
      .flatMap(({ field }) => (findField(dataset, field) ? [field, ...fieldsAbove(dataset, field)] : []))
      .map((name) => name.toLowerCase()),
  );
  const left = fields.filter((field) => !single.has(field.toLowerCase()));
  return left.length > 0 ? left : [...fields];
}

/** A path along an axis, along the levels of it that are left. */
export const placeLeft = <Member>(path: readonly Member[], fields: readonly string[], left: readonly string[]): Member[] =>
  path.filter((_, level) => left.includes(fields[level]));
