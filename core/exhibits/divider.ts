import { dividerSchema, type Divider } from '../model/index.ts';
import type { ExhibitKind } from './kind.ts';

export const dividerKind: ExhibitKind<Divider> = {
  kind: 'divider',
  label: 'Divider',
  id: 'divider',
  isNumbered: false,
  names: () => ({ fields: [], measures: [] }),
  texts: () => [],
  create: ({ id, page }) => dividerSchema.parse({ kind: 'divider', id, page }),
};
