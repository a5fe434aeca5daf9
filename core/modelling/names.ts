import { isFreeName, type Dataset } from '../model/index.ts';

/** A formula name made from a label: small letters, digits and underscores, unique among those taken. */
export function nameFor(label: string, taken: Set<string>): string {
  const base =
    label
      .toLowerCase()
      .normalize('NFKD')
      .replaceAll(/[\u0300-\u036f]/g, '')
      .replaceAll(/[^a-z0-9]+/g, '_')
      .replaceAll(/^_+|_+$/g, '')
      .slice(0, 50) || 'field';
  const safe = /^\d/.test(base) || !isFreeName(base) ? `f_${base}` : base;
  let name = safe;
  for (let number = 2; taken.has(name); number++) name = `${safe}_${number}`;
  taken.add(name);
  return name;
}

/** Every name that a dataset's fields and measures go by. */
export function namesTaken({ dimensions, facts, measures }: Pick<Dataset, 'dimensions' | 'facts' | 'measures'>): Set<string> {
  return new Set([
    ...dimensions.flatMap((dimension) => [
      ...dimension.levels.map(({ name }) => name),
      ...(dimension.kind === 'table' ? dimension.attributes.map(({ name }) => name) : []),
    ]),
    ...facts.flatMap(({ fields }) => fields.map(({ name }) => name)),
    ...measures.map(({ name }) => name),
  ]);
}
