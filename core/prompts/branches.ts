import { parsePathKey, pathCondition, pathKey } from '../crosstab/index.ts';
import { findField, type Dataset, type Filter, type PromptOf } from '../model/index.ts';
import type { PromptKind } from './kind.ts';
import { namedWords } from './member-words.ts';

/** Stands before branches that are left out instead of chosen. */
const BUT = 'but';

/** The branches of a choice, each as the path that leads to it, and whether they are left out. */
export function branchesOf(choice: readonly string[]): { isLeftOut: boolean; paths: string[][] } {
  const isLeftOut = choice[0] === BUT;
  const keys = isLeftOut ? choice.slice(1) : choice;
  return { isLeftOut, paths: keys.map((key) => parsePathKey(key).map(String)) };
}

export const branchesChoice = (paths: readonly string[][], isLeftOut: boolean): string[] =>
  paths.length === 0 ? [] : [...(isLeftOut ? [BUT] : []), ...paths.map(pathKey)];

/** The levels of a dimension that a field is of, from coarse to fine. */
const hierarchyOf = (dataset: Dataset, field: string): string[] => {
  const place = findField(dataset, field);
  return place?.kind === 'level' ? place.dimension.levels.map(({ name }) => name) : [];
};

export const branchesKind: PromptKind<PromptOf<'branches'>> = {
  kind: 'branches',
  label: 'Hierarchy',
  about: 'Whole branches at any level of a hierarchy, or all but these.',
  names: ({ fields }) => ({ fields, measures: [] }),
  title: ({ fields }, dataset) => findField(dataset, fields[0])?.dimension?.label ?? fields[0],
  initial: ({ initial }) => branchesChoice(initial, false),
  startingWith: (own, choice) => ({ ...own, initial: branchesOf(choice).isLeftOut ? [] : branchesOf(choice).paths }),
  isChoice: ({ fields }, choice) => branchesOf(choice).paths.every((path) => path.length > 0 && path.length <= fields.length),
  membersNamed: ({ fields }, choice) =>
    branchesOf(choice).paths.flatMap((path) => path.map((member, level) => ({ field: fields[level], member }))),
  condition({ fields }, choice) {
    const { isLeftOut, paths } = branchesOf(choice);
    if (paths.length === 0) return null;
    const chosen: Filter = { op: 'or', items: paths.flatMap((path) => pathCondition(fields, path, []) ?? []) };
    if (!isLeftOut) return chosen;
    // What cannot be told, since a member is missing, is not of these branches either.
    return { op: 'and', items: paths.map((path) => outside(fields, path)) };
  },
  words({ fields }, choice, { dataset, label }) {
    const { isLeftOut, paths } = branchesOf(choice);
    const whole = `the whole ${(findField(dataset, fields[0])?.dimension?.label ?? fields[0]).toLowerCase()}`;
    if (paths.length === 0) return whole;
    const names = namedWords(paths.map((path) => label(fields[path.length - 1], path.at(-1)!)));
    return isLeftOut ? `${whole} but ${names}` : names;
  },
  create({ id, dataset, about }) {
    const fields = hierarchyOf(dataset, about ?? '');
    return fields.length > 1 ? { id, kind: 'branches', fields, multiple: true, initial: [] } : null;
  },
};

/** Everything outside a branch: some level has another member than its path, or none. */
const outside = (fields: readonly string[], path: readonly string[]): Filter => ({
  op: 'or',
  items: path.flatMap((member, level): Filter[] => [
    { op: 'ne', field: fields[level], value: member },
    { op: 'empty', field: fields[level] },
  ]),
});
