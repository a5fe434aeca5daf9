import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { ExportDocument } from '@bold-compass/core/exports';
import { LRUCache } from 'lru-cache';
import PDFDocument from 'pdfkit';

/** The typefaces of the application. */
const FACES = {
  sans: 'SourceSans3-Regular',
  bold: 'SourceSans3-Semibold',
  italic: 'SourceSans3-It',
  serif: 'SourceSerif4-Regular',
  title: 'SourceSerif4-Semibold',
  serifItalic: 'SourceSerif4-It',
} as const;
export type Face = keyof typeof FACES;

/** Colours of the look on white. */
export const COLOURS = {
  ...{ ink: '#18252F', quiet: '#51606B', rule: '#D9D4C7', hairline: '#ECE8DD', band: '#F7F5EF', sea: '#0E4F5C', brass: '#A86A12' },
  ...{ on: '#1F7A58', drift: '#B7791F', off: '#B23A2E' },
} as const;

/** Beside this module, and beside the bundle once it is built. */
const fontsFolder = ['../../fonts/', './fonts/'].map((place) => fileURLToPath(new URL(place, import.meta.url)));
const fonts = new Map<Face, Buffer>();
function fontOf(face: Face): Buffer {
  let font = fonts.get(face);
  for (const folder of fontsFolder) {
    if (font) break;
    try {
      font = readFileSync(`${folder}${FACES[face]}.ttf`);
    } catch {
      // It is in the other place.
    }
  }
  if (!font) throw new Error(`The typeface ${FACES[face]} is missing.`);
  fonts.set(face, font);
  return font;
}

/** What the library keeps of an open font. Its caches never shrink and it shapes each number anew: both are mended here. */
interface OpenFont {
  layoutCached(text: string): Run;
  layoutRun(text: string, features?: string[]): Run;
  widthOfString(text: string, size: number): number;
}
interface Run {
  glyphs: unknown[];
  positions: unknown[];
  advanceWidth: number;
}
const MOST_WORDS = 20_000;
/** Figures of one width stand in line. */
const FEATURES = ['tnum'];
const NUMBER = /^[\d.,\u2212-]+ ?$/;

/** Words are shaped once; numbers are put together of their digits. */
function quicken(font: OpenFont): void {
  const words = new LRUCache<string, Run>({ max: MOST_WORDS });
  const signs = new Map<string, Run>();
  const shaped = (text: string): Run => font.layoutRun(text, FEATURES);
  font.layoutCached = (text) => {
    const known = words.get(text);
    if (known) return known;
    let run: Run;
    if (NUMBER.test(text)) {
      const parts = [...text].map((sign) => {
        const own = signs.get(sign) ?? shaped(sign);
        signs.set(sign, own);
        return own;
      });
      run = {
        glyphs: parts.flatMap(({ glyphs }) => glyphs),
        positions: parts.flatMap(({ positions }) => positions),
        advanceWidth: parts.reduce((sum, { advanceWidth }) => sum + advanceWidth, 0),
      };
    } else run = shaped(text);
    words.set(text, run);
    return run;
  };
}

/** How a text is written. */
interface TextLook {
  face?: Face;
  size: number;
  colour?: string;
  align?: 'left' | 'right' | 'center';
  /** The room for it, where it stands at its right or in its middle, or is cut to it. */
  width?: number;
}

/** Signs that no page shows. */
const plain = (text: string): string => text.replaceAll(/[\p{Cc}\u200B-\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/gu, ' ');

type Tag = 'H1' | 'H2' | 'H3' | 'P' | 'TH' | 'TD' | 'Caption' | 'Figure' | 'Span';

/** A document that is drawn, with its letters, lines and tags. Lengths are in points. */
export class Ink {
  readonly doc: PDFKit.PDFDocument;
  private readonly chunks: Buffer[] = [];
  private readonly done: Promise<Uint8Array>;
  private readonly open = new Map<Face, OpenFont>();
  /** Where tags are put: the innermost element that is open. */
  private readonly parents: PDFKit.PDFStructureElement[] = [];
  readonly isTagged: boolean;

  constructor({ title, scope, madeFor, madeAt }: ExportDocument, isTagged: boolean) {
    this.isTagged = isTagged;
    this.doc = new PDFDocument({
      ...{ pdfVersion: '1.7', autoFirstPage: false, displayTitle: true, lang: 'en-GB', compress: true },
      ...(isTagged ? { tagged: true, subset: 'PDF/UA' } : {}),
      info: { Title: title, Subject: scope, Author: madeFor, Creator: 'Bold Compass', CreationDate: new Date(madeAt) },
      font: null as never,
    } as PDFKit.PDFDocumentOptions);
    this.done = new Promise((resolve, reject) => {
      this.doc.on('data', (chunk: Buffer) => this.chunks.push(chunk));
      this.doc.on('end', () => resolve(new Uint8Array(Buffer.concat(this.chunks))));
      this.doc.on('error', reject);
    });
    for (const face of Object.keys(FACES) as Face[]) this.doc.registerFont(face, fontOf(face));
    if (isTagged) {
      const root = this.doc.struct('Document');
      this.doc.addStructure(root);
      this.parents.push(root);
    }
  }

  private font(face: Face): OpenFont {
    this.doc.font(face);
    let font = this.open.get(face);
    if (!font) {
      font = (this.doc as unknown as { _font: OpenFont })._font;
      quicken(font);
      this.open.set(face, font);
    }
    return font;
  }

  width(text: string, face: Face, size: number): number {
    return this.font(face).widthOfString(plain(text), size);
  }

  /** A text cut to a width, with an ellipsis where something is left out. */
  fitted(text: string, face: Face, size: number, width: number): string {
    if (this.width(text, face, size) <= width + 0.01) return text;
    const signs = [...text];
    let [low, high] = [0, signs.length];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if (this.width(`${signs.slice(0, middle).join('').trimEnd()}…`, face, size) <= width) low = middle;
      else high = middle - 1;
    }
    return `${signs.slice(0, low).join('').trimEnd()}…`;
  }

  /** A text in lines of a width; words that are wider are divided. */
  wrapped(text: string, face: Face, size: number, width: number): string[] {
    const lines: string[] = [];
    for (const paragraph of text.split('\n')) {
      let line = '';
      for (const word of paragraph.split(/[ \t]+/)) {
        const next = line === '' ? word : `${line} ${word}`;
        if (this.width(next, face, size) <= width) {
          line = next;
          continue;
        }
        if (line !== '') lines.push(line);
        line = word;
        while (this.width(line, face, size) > width && line.length > 1) {
          let most = 1;
          while (most < line.length && this.width(line.slice(0, most + 1), face, size) <= width) most++;
          lines.push(line.slice(0, most));
          line = line.slice(most);
        }
      }
      lines.push(line);
    }
    return lines;
  }

  /** Writes a line; `y` is the top of its letters' box. */
  text(words: string, x: number, y: number, { face = 'sans', size, colour = COLOURS.ink, align = 'left', width }: TextLook): void {
    const own = plain(words);
    if (own.trim() === '') return;
    this.font(face);
    const wide = align === 'left' || width === undefined ? 0 : width - this.width(own, face, size);
    this.doc.fontSize(size).fillColor(colour);
    this.doc.text(own, x + (align === 'center' ? wide / 2 : wide), y, { lineBreak: false });
  }

  rule(x: number, y: number, to: number, thickness: number, colour: string = COLOURS.ink): void {
    this.doc.moveTo(x, y).lineTo(to, y).lineWidth(thickness).strokeColor(colour).stroke();
  }

  /** Draws what nobody has to be told: lines, grounds, heads and feet. */
  artifact(draw: () => void): void {
    if (!this.isTagged) return draw();
    this.doc.markContent('Artifact', { type: 'Layout' });
    draw();
    this.doc.endMarkedContent();
  }

  /** Draws what stands under a tag of its own. */
  tagged(tag: Tag, draw: () => void, options: PDFKit.Mixins.StructureElementOptions & { scope?: 'Column' | 'Row' } = {}): void {
    if (!this.isTagged) return draw();
    const content = this.doc.markStructureContent(tag);
    draw();
    this.doc.endMarkedContent();
    this.parents.at(-1)!.add(this.doc.struct(tag, options, [content]));
  }

  /** Begins an element that others stand in: a table, or a row of one. Ended with what is returned. */
  group(tag: 'Sect' | 'Table' | 'TR' | 'THead' | 'TBody'): () => void {
    if (!this.isTagged) return () => undefined;
    const element = this.doc.struct(tag);
    this.parents.at(-1)!.add(element);
    this.parents.push(element);
    return () => {
      this.parents.splice(this.parents.indexOf(element), 1);
      element.end();
    };
  }

  finish(): Promise<Uint8Array> {
    for (const parent of this.parents.splice(0).reverse()) parent.end();
    this.doc.end();
    return this.done;
  }
}
