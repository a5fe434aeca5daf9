import { imageSchema, type Image } from '../model/index.ts';
import type { ExhibitKind } from './kind.ts';

/** One transparent pixel, as SVG. */
const EMPTY_PICTURE = 'data:image/svg+xml;base64,PHN2ZyB4bWxucz0iaHR0cDovL3d3dy53My5vcmcvMjAwMC9zdmciIHdpZHRoPSIxIiBoZWlnaHQ9IjEiLz4=';

export const imageKind: ExhibitKind<Image> = {
  kind: 'image',
  label: 'Picture',
  id: 'picture',
  isNumbered: false,
  names: () => ({ fields: [], measures: [] }),
  links: ({ link }) => (link ? [link] : []),
  texts: () => [],
  glance: ({ source }) => ({ picture: source }),
  withAssets: async (own, other) => ({ ...own, source: await other(own.source) }),
  create: ({ id, page }) => imageSchema.parse({ kind: 'image', id, page, source: EMPTY_PICTURE }),
};
