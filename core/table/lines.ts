import type { Header } from '../api/index.ts';

/** Whether two paths name the same member. */
export const samePath = (a: readonly (string | null)[], b: readonly (string | null)[]): boolean =>
  a.length === b.length && a.every((member, index) => member === b[index]);

/** Whether figures of a row or column can be chosen: those of a summary are calculated of others, and a bare one has none. */
export const canChoose = (header: Header | undefined): header is Header => header !== undefined && !header.summary && !header.bare;
