import SVGtoPDF from 'svg-to-pdfkit';
import type { GatheredPicture } from '../../gathered.ts';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Ink } from './ink.ts';

/** A picture that can be drawn: how large it is, in points, and what draws it in a place. */
interface Drawable {
  width: number;
  height: number;
  draw(page: Ink, x: number, y: number, width: number, height: number): void;
}

/** A picture of points, as the library opens it. Throws for one that it cannot read. */
function raster(ink: Ink, { bytes }: GatheredPicture): Drawable {
  const image = (ink.doc as unknown as { openImage(bytes: Buffer): { width: number; height: number } }).openImage(Buffer.from(bytes));
  return {
    ...{ width: image.width, height: image.height },
    draw: (page, x, y, width, height) => void page.doc.image(image as never, x, y, { width, height }),
  };
}

const LONGEST = 2_000_000;
const number = (text: string | undefined): number => Number.parseFloat(text ?? '');

/** A drawing, with nothing that it names elsewhere: neither files nor addresses are opened. Null for one without a size. */
function vector({ bytes }: GatheredPicture): Drawable | null {
  const svg = Buffer.from(bytes).toString('utf8');
  const root = /<svg\b[^>]*>/i.exec(svg)?.[0];
  if (!root || svg.length > LONGEST) return null;
  const attribute = (name: string): string | undefined => new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`, 'i').exec(root)?.[1];
  const box = (attribute('viewBox') ?? '').split(/[\s,]+/).map(Number);
  const [width, height] = [number(attribute('width')) || box[2], number(attribute('height')) || box[3]];
  if (!(width > 0 && height > 0)) return null;
  return {
    ...{ width, height },
    draw(page, x, y, wide, high) {
      page.doc.save();
      try {
        SVGtoPDF(page.doc, svg, x, y, {
          ...{ width: wide, height: high, preserveAspectRatio: 'xMidYMid meet', assumePt: true },
          fontCallback: (_family: string, isBold: boolean, isItalic: boolean) => (isBold ? 'bold' : isItalic ? 'italic' : 'sans'),
          imageCallback: () => '',
          warningCallback: () => undefined,
        });
      } catch {
        // What cannot be drawn of it is left out; its words stand with it for those who read these.
      }
      page.doc.restore();
    },
  };
}

/** What draws each kind of picture; others are said in words. */
const KINDS: Record<string, (ink: Ink, picture: GatheredPicture) => Drawable | null> = {
  'image/png': raster,
  'image/jpeg': raster,
  'image/svg+xml': (_ink, picture) => vector(picture),
};

/** A picture that can be drawn; null for one that cannot. */
function drawable(ink: Ink, picture: GatheredPicture | undefined): Drawable | null {
  if (!picture || !Object.hasOwn(KINDS, picture.type)) return null;
  try {
    return KINDS[picture.type](ink, picture);
  } catch {
    return null;
  }
}

/** A picture as wide as its place, or its words where the format does not hold its kind. */
export const pictureBlock = (
  ink: Ink,
  { width: columns, words }: { width: number; words: string },
  picture: GatheredPicture | undefined,
): Block => ({
  width: columns,
  title: '',
  layout(width, room): Piece[] {
    const own = drawable(ink, picture);
    if (!own) {
      const lines = words === '' ? [] : ink.wrapped(words, 'italic', 9, width);
      const draw = (page: Ink, x: number, y: number): void =>
        lines.forEach((line, index) =>
          page.tagged('P', () => page.text(line, x, y + index * 12, { face: 'italic', size: 9, colour: COLOURS.quiet })),
        );
      return lines.length > 0 ? [{ height: lines.length * 12, draw }] : [];
    }
    const scale = Math.min(1, width / own.width, room.next / own.height);
    const [wide, high] = [own.width * scale, own.height * scale];
    const draw = (page: Ink, x: number, y: number): void =>
      page.tagged('Figure', () => own.draw(page, x, y, wide, high), {
        ...{ alt: words || 'Picture', bbox: [x, y, x + wide, y + high] },
      });
    return [{ height: high, draw }];
  },
});
