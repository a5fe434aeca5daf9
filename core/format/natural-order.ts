/**
 * The order of texts as a reader expects it: by the locale's collation, numbers in them by their value. Comparing by the
 * collation costs a microsecond or two, and a long axis is compared millions of times; so texts of plain letters, digits and
 * common signs are given keys that a computer compares directly in the same order.
 *
 * The order of signs, digits and letters is that of the root collation (CLDR; Unicode Technical Standard 10), in which signs
 * are not ignored. Texts that differ in nothing but their case, and texts with other letters, are left to the collation.
 */

/** Signs in the order of the root collation, all before digits. */
const SIGNS = ' _-,;:!?.\'"()[]{}@*/\\&#%`^+<=>|~$';
const DIGITS = String.fromCharCode(SIGNS.length + 1);
/** Longest number that a key holds; longer ones are left to the collation. */
const MOST_DIGITS = 60;
const PLAIN = /^[A-Za-z0-9 _\-,;:!?.'"()[\]{}@*/\\&#%`^+<=>|~$]*$/;

/** A key that orders a text as the collation does, up to differences of case; null for texts that only the collation can order. */
export function orderKey(text: string): string | null {
  if (!PLAIN.test(text)) return null;
  let key = '';
  for (const [part, letters, digits] of text.matchAll(/([A-Za-z]+)|([0-9]+)|./g)) {
    if (letters) key += letters.toLowerCase();
    else if (digits) {
      const value = digits.replace(/^0+(?=.)/, '');
      if (value.length > MOST_DIGITS) return null;
      key += DIGITS + String.fromCharCode(value.length) + value;
    } else key += String.fromCharCode(SIGNS.indexOf(part) + 1);
  }
  return key;
}

/** How texts of a locale are ordered: by comparing two of them, or by keys where these can tell. */
export interface NaturalOrder {
  compare(a: string, b: string): number;
  /** See `orderKey`. */
  key(text: string): string | null;
}

/** The natural order of a locale. Keys are that of the root collation, which English locales follow. */
export function naturalOrderOf(locale: string): NaturalOrder {
  const collator = new Intl.Collator(locale, { numeric: true });
  return { compare: (a, b) => collator.compare(a, b), key: orderKey };
}
