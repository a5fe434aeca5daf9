import { fieldPlace, findField, isSameDimension, type Choices, type Crosstab, type Dataset, type Exhibit } from '../model/index.ts';
import type { Swap } from '../prompts/index.ts';

/** Under which name choices hold what members of a cross-tab open by instead of their usual level. No prompt has an id with a dot. */
export const openByKey = (exhibit: string): string => `${exhibit}.open-by`;

/** A level in the place of another one, as a choice. */
export const openByChoice = (from: string, to: string): string => `${from}>${to}`;

/** The level that stands in the place of another; undefined for the usual one. */
export const openedBy = (exhibit: string, choices: Choices, from: string): string | undefined =>
  choices[openByKey(exhibit)]?.map((choice) => choice.split('>')).find(([own]) => own === from)?.[1];

/** The levels of one dimension from a field on: they go together. */
function runFrom(dataset: Dataset, fields: readonly string[], from: string): string[] {
  const at = fields.indexOf(from);
  const place = fieldPlace(dataset, from);
  const rest = fields.slice(at + 1);
  const end = rest.findIndex((field) => !isSameDimension(place, fieldPlace(dataset, field)));
  return [from, ...(end < 0 ? rest : rest.slice(0, end))];
}

/** Levels in the place of others down the side of a cross-tab, as its reader chose; what is unknown there changes nothing. */
export function openBySwaps(exhibit: Exhibit, choices: Choices, dataset: Dataset): Swap[] {
  if (exhibit.kind !== 'crosstab') return [];
  const { fields } = (exhibit satisfies Crosstab).side;
  return (choices[openByKey(exhibit.id)] ?? []).flatMap((choice) => {
    const [from, to = ''] = choice.split('>');
    const place = findField(dataset, to);
    if (!fields.includes(from) || !place || place.kind === 'attribute') return [];
    return [{ measures: new Map<string, string>(), fields: [{ from: runFrom(dataset, fields, from), to: [place.name] }] }];
  });
}
