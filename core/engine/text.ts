/** The two standard converters are the only platform objects the engine uses; browsers and Node.js share them. */
export const textEncoder: { encode(text: string): Uint8Array } = new TextEncoder();
export const textDecoder: { decode(bytes: Uint8Array): string } = new TextDecoder();

/**
 * Orders texts by code point, as PostgreSQL's collation "C" does on UTF-8. Plain `<` compares UTF-16 units, which
 * puts surrogate pairs before U+E000 to U+FFFF.
 */
export function compareText(a: string, b: string): number {
  const length = Math.min(a.length, b.length);
  for (let index = 0; index < length; index++) {
    const [x, y] = [a.charCodeAt(index), b.charCodeAt(index)];
    if (x === y) continue;
    const xHigh = x >= 0xd800 && x <= 0xdfff;
    const yHigh = y >= 0xd800 && y <= 0xdfff;
    if (xHigh !== yHigh) return xHigh ? 1 : -1;
    return x - y;
  }
  return a.length - b.length;
}

/** A pattern of SQL's LIKE as a test: `%` any run, `_` one character, `\` makes the next character plain. */
export function likeTest(pattern: string): (text: string) => boolean {
  let source = '';
  for (let index = 0; index < pattern.length; index++) {
    const character = pattern[index];
    if (character === '%') source += '[^]*';
    else if (character === '_') source += '[^]';
    else {
      const plain = character === '\\' && index + 1 < pattern.length ? pattern[++index] : character;
      source += plain.replace(/[.*+?^${}()|[\]\\/-]/g, '\\$&');
    }
  }
  const expression = new RegExp(`^${source}$`, 'u');
  return (text) => expression.test(text);
}
