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
const DIGITS = SIGNS.length + 1;
/** Longest number that a key holds; longer ones are left to the collation. */
const MOST_DIGITS = 60;
/** What each character up to `~` becomes in a key: signs their place, letters their small form; 0 is none that keys know. */
const CODES = Uint16Array.from({ length: 127 }, (_, code) => {
  const character = String.fromCharCode(code);
  return /[A-Za-z0-9]/.test(character) ? character.toLowerCase().charCodeAt(0) : SIGNS.indexOf(character) + 1;
});
const [ZERO, NINE] = [48, 57];
const isDigit = (code: number): boolean => code >= ZERO && code <= NINE;
/** Room for the key that is being made. */
let room = new Uint16Array(256);

/** A key that orders a text as the collation does, up to differences of case; null for texts that only the collation can order. */
export function orderKey(text: string): string | null {
  // A number takes two places more than its digits: a sign that it is one, and how many they are.
  if (room.length < text.length * 3) room = new Uint16Array(text.length * 3);
  let length = 0;
  for (let at = 0; at < text.length;) {
    const code = text.charCodeAt(at);
    const own = code < CODES.length ? CODES[code] : 0;
    if (own === 0) return null;
    if (!isDigit(code)) {
      room[length++] = own;
      at++;
      continue;
    }
    let end = at + 1;
    while (end < text.length && isDigit(text.charCodeAt(end))) end++;
    while (at < end - 1 && text.charCodeAt(at) === ZERO) at++;
    if (end - at > MOST_DIGITS) return null;
    room[length++] = DIGITS;
    room[length++] = end - at;
    while (at < end) room[length++] = text.charCodeAt(at++);
  }
  return String.fromCharCode.apply(null, room.subarray(0, length) as unknown as number[]);
}

/** How texts of a locale are ordered: by comparing two of them, or by keys where these can tell. */
interface NaturalOrder {
  compare(a: string, b: string): number;
  /** See `orderKey`. */
  key(text: string): string | null;
}

/** The natural order of a locale. Keys are that of the root collation, which English locales follow. */
export function naturalOrderOf(locale: string): NaturalOrder {
  const collator = new Intl.Collator(locale, { numeric: true });
  return { compare: (a, b) => collator.compare(a, b), key: orderKey };
}
