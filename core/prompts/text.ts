import { fieldLabel, findField, type Dataset, type PromptOf } from '../model/index.ts';
import type { PromptKind } from './kind.ts';

/** A field whose values are what readers see: texts, and no codes with words of their own. */
function isReadable(dataset: Dataset, name: string): boolean {
  const place = findField(dataset, name);
  return place?.type === 'text' && place.kind !== 'period' && !(place.kind === 'level' && place.level.labelColumn);
}

export const textKind: PromptKind<PromptOf<'text'>> = {
  kind: 'text',
  label: 'Text',
  about: 'Records whose text contains what is typed, with suggestions.',
  names: ({ field }) => ({ fields: [field], measures: [] }),
  faults: ({ field }, dataset) =>
    isReadable(dataset, field) ? [] : [`A prompt for a text needs texts that readers see, and "${field}" holds none.`],
  title: ({ field }, dataset) => (findField(dataset, field) ? fieldLabel(dataset, field) : field),
  initial: ({ initial }) => (initial ? [initial] : []),
  startingWith: (own, [text = '']) => ({ ...own, initial: text }),
  isChoice: (_, choice) => choice.length <= 1,
  condition: ({ field }, [text = '']) => (text === '' ? null : { op: 'includes', field, value: text }),
  value: (_, [text]) => ({ type: 'text', value: text ?? null }),
  words: ({ field }, [text = ''], { dataset }) =>
    text === '' ? `any ${fieldLabel(dataset, field).toLowerCase()}` : `${fieldLabel(dataset, field).toLowerCase()} with “${text}”`,
  create: ({ id, dataset, about }) => (about && isReadable(dataset, about) ? { id, kind: 'text', field: about, initial: '' } : null),
};
