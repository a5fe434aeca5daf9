import { textSchema, type Text } from '../model/index.ts';
import type { ExhibitKind } from './kind.ts';

export const textKind: ExhibitKind<Text> = {
  kind: 'text',
  label: 'Text',
  id: 'text',
  isNumbered: false,
  names: () => ({ fields: [], measures: [] }),
  texts: ({ text }) => [text],
  glance: ({ text }) => ({ text }),
  create: ({ id, page }) => textSchema.parse({ kind: 'text', id, page, text: '## A heading\n\nWords about {scope}.' }),
};
