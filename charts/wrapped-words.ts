/** How wide a letter is, in pixels. */
export const LETTER = 6.4;

/** Words in lines of some width, in pixels; a word alone is as wide as it is. */
export function wrappedWords(words: string, width: number): string[] {
  const lines: string[] = [];
  for (const word of words.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && (last.length + word.length + 1) * LETTER <= width) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

/** About how wide a text is, in pixels. */
export const textWidth = (text: string): number => text.length * LETTER;

/** Whether each word fits into a width, in pixels. */
export const fitsWords = (words: string, width: number): boolean => words.split(' ').every((word) => word.length * LETTER <= width);
