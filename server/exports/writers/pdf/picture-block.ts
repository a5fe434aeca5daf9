import type { GatheredPicture } from '../../gathered.ts';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Ink } from './ink.ts';

/** The kinds of pictures that the format holds. */
const KINDS = new Set(['image/png', 'image/jpeg']);

/** A picture as wide as its place, or its words where the format does not hold its kind. */
export const pictureBlock = (
  ink: Ink,
  { width: columns, words }: { width: number; words: string },
  picture: GatheredPicture | undefined,
): Block => ({
  width: columns,
  title: '',
  layout(width, room): Piece[] {
    const image = picture && KINDS.has(picture.type) ? imageOf(ink, picture) : null;
    if (!image) {
      const lines = words === '' ? [] : ink.wrapped(words, 'italic', 9, width);
      const draw = (page: Ink, x: number, y: number): void =>
        lines.forEach((line, index) =>
          page.tagged('P', () => page.text(line, x, y + index * 12, { face: 'italic', size: 9, colour: COLOURS.quiet })),
        );
      return lines.length > 0 ? [{ height: lines.length * 12, draw }] : [];
    }
    const scale = Math.min(1, width / image.width, room.next / image.height);
    const [wide, high] = [image.width * scale, image.height * scale];
    const draw = (page: Ink, x: number, y: number): void =>
      page.tagged('Figure', () => void page.doc.image(image as never, x, y, { width: wide, height: high }), {
        ...{ alt: words || 'Picture', bbox: [x, y, x + wide, y + high] },
      });
    return [{ height: high, draw }];
  },
});

interface Image {
  width: number;
  height: number;
}

/** A picture that can be read; null for one that cannot. */
function imageOf(ink: Ink, { bytes }: GatheredPicture): Image | null {
  try {
    return (ink.doc as unknown as { openImage(bytes: Buffer): Image }).openImage(Buffer.from(bytes));
  } catch {
    return null;
  }
}
