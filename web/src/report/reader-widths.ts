import type { LocationQuery, LocationQueryRaw } from 'vue-router';

/** Widths of columns that a reader drew, as the address holds them: in pixels, by what they are of; null for what fits its texts again. */
type ReaderWidths = Record<string, number | null>;

const keyOf = (exhibit: string): string => `${exhibit}.widths`;
const [LEAST, MOST] = [30, 800];

/** What is no width is left out. */
export function readWidths(query: LocationQuery, exhibit: string): ReaderWidths {
  const parts = [query[keyOf(exhibit)] ?? []].flat().flatMap((text) => /^(label|\d{1,3}):(\d{2,3}|fit)$/.exec(text ?? '') ?? []);
  const widths: ReaderWidths = {};
  for (let at = 0; at < parts.length; at += 3) {
    const width = Number(parts[at + 2]);
    if (parts[at + 2] === 'fit') widths[parts[at + 1]] = null;
    else if (width >= LEAST && width <= MOST) widths[parts[at + 1]] = width;
  }
  return widths;
}

/** What draws one more width, or fits it again. */
export function widthQuery(query: LocationQuery, exhibit: string, what: string, width: number | null): LocationQueryRaw {
  const widths = { ...readWidths(query, exhibit), [what]: width };
  return { [keyOf(exhibit)]: Object.entries(widths).map(([own, drawn]) => `${own}:${drawn ?? 'fit'}`) };
}

/** Widths as the report says, or as their reader drew them. */
export function withReaderWidths(widths: Readonly<Record<string, number>>, drawn: ReaderWidths): Record<string, number> {
  const all = { ...widths, ...drawn };
  return Object.fromEntries(Object.entries(all).flatMap(([what, width]) => (width === null ? [] : [[what, width]])));
}
