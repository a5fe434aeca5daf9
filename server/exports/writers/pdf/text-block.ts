import MarkdownIt, { type Token } from 'markdown-it';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Face, type Ink } from './ink.ts';

const markdown = new MarkdownIt({ html: false, linkify: false, typographer: true });

interface Line {
  words: string;
  face: Face;
  size: number;
  indent: number;
  above: number;
  tag: 'H2' | 'H3' | 'P';
}

/** The plain words of a piece of Markdown. */
const plain = (children: Token[] | null): string =>
  (children ?? []).map(({ type, content }) => (type === 'softbreak' ? ' ' : type === 'hardbreak' ? '\n' : content)).join('');

/** A text in Markdown as lines: headings, paragraphs and lists (CommonMark). */
function linesOf(ink: Ink, text: string, width: number): Line[] {
  const lines: Line[] = [];
  let depth = 0;
  const numbers: (number | null)[] = [];
  let look: Pick<Line, 'face' | 'size' | 'tag'> = { face: 'serif', size: 9.5, tag: 'P' };
  let bullet = '';
  for (const token of markdown.parse(text, {})) {
    if (token.type === 'heading_open')
      look = token.tag === 'h1' || token.tag === 'h2' ? { face: 'title', size: 12, tag: 'H2' } : { face: 'title', size: 10.5, tag: 'H3' };
    else if (token.type === 'heading_close' || token.type === 'paragraph_close') look = { face: 'serif', size: 9.5, tag: 'P' };
    else if (token.type === 'bullet_list_open' || token.type === 'ordered_list_open') {
      depth++;
      numbers.push(token.type === 'ordered_list_open' ? Number(token.attrGet('start') ?? 1) : null);
    } else if (token.type === 'bullet_list_close' || token.type === 'ordered_list_close') {
      depth--;
      numbers.pop();
    } else if (token.type === 'list_item_open') {
      const number = numbers.at(-1);
      bullet = number === null || number === undefined ? '• ' : `${number}. `;
      if (typeof number === 'number') numbers[numbers.length - 1] = number + 1;
    } else if (token.type === 'inline' || token.type === 'fence' || token.type === 'code_block') {
      const isAllStrong = token.children?.[0]?.type === 'strong_open' && token.children.at(-1)?.type === 'strong_close';
      const own = isAllStrong && look.tag === 'P' ? { ...look, face: 'title' as const } : look;
      const words = token.type === 'inline' ? plain(token.children) : token.content.trimEnd();
      const indent = depth * 12;
      ink.wrapped(`${bullet}${words}`, own.face, own.size, width - indent).forEach((line, index) => {
        lines.push({ ...own, words: line, indent, above: index === 0 && lines.length > 0 ? (depth > 0 ? 1 : 4) : 0 });
      });
      bullet = '';
    }
  }
  return lines;
}

const heightOf = ({ size, above }: Line): number => size * 1.38 + above;

/** A text, over as many pages as it needs. */
export const textBlock = (ink: Ink, part: { width: number; text: string }): Block => ({
  width: part.width,
  title: '',
  layout(width, room): Piece[] {
    const lines = linesOf(ink, part.text, width);
    const pieces: Piece[] = [];
    let from = 0;
    while (from < lines.length) {
      const most = pieces.length === 0 ? room.first : room.next;
      let [to, height] = [from, 0];
      while (to < lines.length && height + heightOf(lines[to]) <= most) height += heightOf(lines[to++]);
      if (to === from) {
        if (pieces.length > 0 || room.first >= room.next) [to, height] = [from + 1, heightOf(lines[from])];
        else return [{ height: Infinity, draw: () => undefined }];
      }
      const own = lines.slice(from, to);
      pieces.push({
        height,
        draw(page, x, y) {
          let top = y;
          for (const line of own) {
            top += line.above;
            const at = top;
            page.tagged(line.tag, () =>
              page.text(line.words, x + line.indent, at, { face: line.face, size: line.size, colour: COLOURS.ink }),
            );
            top += line.size * 1.38;
          }
        },
      });
      from = to;
    }
    return pieces;
  },
});
