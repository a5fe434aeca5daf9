import type { Face, Ink } from './ink.ts';

/**
 * The part of the 2D context of a canvas (WHATWG HTML, 4.12.5.1) that charts are drawn with, onto a page: paths, dashes, clips,
 * gradients and text, as vectors. Paths are kept in the coordinates of the page, since a canvas fills and strokes the same path and a
 * page draws each once. Arguments that are no numbers are ignored, as a canvas ignores them.
 */

type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];
type Step = ['M' | 'L', number, number] | ['C', number, number, number, number, number, number] | ['Z'];

const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** A matrix applied after another. */
const times = ([a, b, c, d, e, f]: Matrix, [g, h, i, j, k, l]: Matrix): Matrix => [
  ...([a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j] as const),
  ...([a * k + c * l + e, b * k + d * l + f] as const),
];

/** A path written as SVG writes it, which maps are drawn along. */
export class SvgPath {
  constructor(readonly d: string = '') {}
}

/** Colours that run along a line. */
class Gradient {
  readonly stops: [number, string][] = [];
  constructor(readonly line: readonly [number, number, number, number]) {}
  addColorStop(at: number, colour: string): void {
    this.stops.push([at, colour]);
  }
}

interface Look {
  fillStyle: unknown;
  strokeStyle: unknown;
  lineWidth: number;
  lineCap: 'butt' | 'round' | 'square';
  lineJoin: 'miter' | 'round' | 'bevel';
  miterLimit: number;
  lineDashOffset: number;
  globalAlpha: number;
  font: string;
  textAlign: 'left' | 'right' | 'center' | 'start' | 'end';
  textBaseline: 'top' | 'middle' | 'bottom' | 'alphabetic' | 'hanging' | 'ideographic';
}

const FIRST: Look = {
  ...{ fillStyle: '#000', strokeStyle: '#000', lineWidth: 1, lineCap: 'butt', lineJoin: 'miter', miterLimit: 10, lineDashOffset: 0 },
  ...{ globalAlpha: 1, font: '10px sans-serif', textAlign: 'start', textBaseline: 'alphabetic' },
};

const areNumbers = (...values: unknown[]): boolean => values.every((value) => typeof value === 'number' && Number.isFinite(value));

/** A colour as three parts and how much it covers; null for one that cannot be read. */
export function readColour(colour: unknown): { rgb: [number, number, number]; alpha: number } | null {
  if (typeof colour !== 'string') return null;
  const text = colour.trim().toLowerCase();
  if (text === 'transparent') return { rgb: [0, 0, 0], alpha: 0 };
  const hex = /^#([0-9a-f]{3,8})$/.exec(text)?.[1];
  if (hex && [3, 4, 6, 8].includes(hex.length)) {
    const parts = (hex.length < 6 ? [...hex].map((sign) => sign + sign) : hex.match(/../g)!).map((part) => parseInt(part, 16));
    return { rgb: [parts[0], parts[1], parts[2]], alpha: (parts[3] ?? 255) / 255 };
  }
  const parts = /^rgba?\(([^)]*)\)$/
    .exec(text)?.[1]
    .split(/[\s,/]+/)
    .map((part) => (part.endsWith('%') ? parseFloat(part) / 100 : Number(part)));
  if (!parts || parts.length < 3 || !areNumbers(...parts)) return NAMED[text] ? { rgb: [...NAMED[text]], alpha: 1 } : null;
  return { rgb: [parts[0], parts[1], parts[2]].map((part) => Math.round(part)) as [number, number, number], alpha: parts[3] ?? 1 };
}
const NAMED: Record<string, readonly [number, number, number]> = { black: [0, 0, 0], white: [255, 255, 255] };

/** The size in pixels, and the typeface, that a font of CSS names. */
export function readFont(font: string): { size: number; face: Face } {
  const size = Number(/([\d.]+)px/.exec(font)?.[1] ?? 10);
  const isSerif = /serif 4|georgia/i.test(font);
  const isBold = /\b(bold|[6-9]00)\b/.test(font);
  if (/\bitalic\b/.test(font)) return { size, face: isSerif ? 'serifItalic' : 'italic' };
  return { size, face: isSerif ? (isBold ? 'title' : 'serif') : isBold ? 'bold' : 'sans' };
}

export class CanvasContext {
  private look: Look & { matrix: Matrix; dash: number[] } = { ...FIRST, matrix: IDENTITY, dash: [] };
  private readonly kept: (Look & { matrix: Matrix; dash: number[] })[] = [];
  private path: Step[] = [];
  private at: readonly [number, number] | null = null;
  canvas: unknown = null;

  /** While it does not draw, it measures and keeps its state. */
  draws = false;

  constructor(private readonly ink: Ink) {}

  // The properties of the standard.
  get fillStyle(): unknown {
    return this.look.fillStyle;
  }
  set fillStyle(value: unknown) {
    this.look.fillStyle = value;
  }
  get strokeStyle(): unknown {
    return this.look.strokeStyle;
  }
  set strokeStyle(value: unknown) {
    this.look.strokeStyle = value;
  }
  get lineWidth(): number {
    return this.look.lineWidth;
  }
  set lineWidth(value: number) {
    if (areNumbers(value) && value > 0) this.look.lineWidth = value;
  }
  get lineCap(): Look['lineCap'] {
    return this.look.lineCap;
  }
  set lineCap(value: Look['lineCap']) {
    this.look.lineCap = value;
  }
  get lineJoin(): Look['lineJoin'] {
    return this.look.lineJoin;
  }
  set lineJoin(value: Look['lineJoin']) {
    this.look.lineJoin = value;
  }
  get miterLimit(): number {
    return this.look.miterLimit;
  }
  set miterLimit(value: number) {
    if (areNumbers(value) && value > 0) this.look.miterLimit = value;
  }
  get lineDashOffset(): number {
    return this.look.lineDashOffset;
  }
  set lineDashOffset(value: number) {
    if (areNumbers(value)) this.look.lineDashOffset = value;
  }
  get globalAlpha(): number {
    return this.look.globalAlpha;
  }
  set globalAlpha(value: number) {
    if (areNumbers(value) && value >= 0 && value <= 1) this.look.globalAlpha = value;
  }
  get font(): string {
    return this.look.font;
  }
  set font(value: string) {
    if (/px/.test(value)) this.look.font = value;
  }
  get textAlign(): Look['textAlign'] {
    return this.look.textAlign;
  }
  set textAlign(value: Look['textAlign']) {
    this.look.textAlign = value;
  }
  get textBaseline(): Look['textBaseline'] {
    return this.look.textBaseline;
  }
  set textBaseline(value: Look['textBaseline']) {
    this.look.textBaseline = value;
  }

  save(): void {
    this.kept.push({ ...this.look, dash: [...this.look.dash] });
    if (this.draws) this.ink.doc.save();
  }
  restore(): void {
    const before = this.kept.pop();
    if (!before) return;
    this.look = before;
    if (this.draws) this.ink.doc.restore();
  }
  translate(x: number, y: number): void {
    if (areNumbers(x, y)) this.look.matrix = times(this.look.matrix, [1, 0, 0, 1, x, y]);
  }
  scale(x: number, y: number): void {
    if (areNumbers(x, y)) this.look.matrix = times(this.look.matrix, [x, 0, 0, y, 0, 0]);
  }
  rotate(angle: number): void {
    if (areNumbers(angle))
      this.look.matrix = times(this.look.matrix, [Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), 0, 0]);
  }
  transform(...matrix: number[]): void {
    if (matrix.length === 6 && areNumbers(...matrix)) this.look.matrix = times(this.look.matrix, matrix as unknown as Matrix);
  }
  setTransform(...matrix: number[]): void {
    if (matrix.length === 6 && areNumbers(...matrix)) this.look.matrix = matrix as unknown as Matrix;
  }
  resetTransform(): void {
    this.look.matrix = IDENTITY;
  }
  setLineDash(dash: number[]): void {
    if (areNumbers(...dash)) this.look.dash = dash.length % 2 === 1 ? [...dash, ...dash] : [...dash];
  }
  getLineDash(): number[] {
    return [...this.look.dash];
  }

  private point(x: number, y: number): [number, number] {
    const [a, b, c, d, e, f] = this.look.matrix;
    return [a * x + c * y + e, b * x + d * y + f];
  }
  beginPath(): void {
    this.path = [];
    this.at = null;
  }
  closePath(): void {
    if (this.path.length > 0) this.path.push(['Z']);
  }
  moveTo(x: number, y: number): void {
    if (!areNumbers(x, y)) return;
    this.at = [x, y];
    this.path.push(['M', ...this.point(x, y)]);
  }
  lineTo(x: number, y: number): void {
    if (!areNumbers(x, y)) return;
    if (!this.at) return this.moveTo(x, y);
    this.at = [x, y];
    this.path.push(['L', ...this.point(x, y)]);
  }
  bezierCurveTo(x1: number, y1: number, x2: number, y2: number, x: number, y: number): void {
    if (!areNumbers(x1, y1, x2, y2, x, y)) return;
    if (!this.at) this.moveTo(x1, y1);
    this.at = [x, y];
    this.path.push(['C', ...this.point(x1, y1), ...this.point(x2, y2), ...this.point(x, y)]);
  }
  quadraticCurveTo(x1: number, y1: number, x: number, y: number): void {
    if (!areNumbers(x1, y1, x, y)) return;
    if (!this.at) this.moveTo(x1, y1);
    const [fromX, fromY] = this.at!;
    // A quadratic curve as the cubic one that it is.
    this.bezierCurveTo(
      fromX + (2 / 3) * (x1 - fromX),
      fromY + (2 / 3) * (y1 - fromY),
      x + (2 / 3) * (x1 - x),
      y + (2 / 3) * (y1 - y),
      x,
      y,
    );
  }
  rect(x: number, y: number, width: number, height: number): void {
    if (!areNumbers(x, y, width, height)) return;
    this.moveTo(x, y);
    this.lineTo(x + width, y);
    this.lineTo(x + width, y + height);
    this.lineTo(x, y + height);
    this.closePath();
    this.moveTo(x, y);
  }
  arc(x: number, y: number, radius: number, from: number, to: number, isBack = false): void {
    this.ellipse(x, y, radius, radius, 0, from, to, isBack);
  }
  ellipse(x: number, y: number, radiusX: number, radiusY: number, turn: number, from: number, to: number, isBack = false): void {
    if (!areNumbers(x, y, radiusX, radiusY, turn, from, to) || radiusX < 0 || radiusY < 0) return;
    const whole = 2 * Math.PI;
    let sweep = to - from;
    if (isBack) sweep = sweep <= -whole ? -whole : (sweep % whole) - (sweep % whole > 0 ? whole : 0);
    else sweep = sweep >= whole ? whole : (sweep % whole) + (sweep % whole < 0 ? whole : 0);
    const place = (angle: number): [number, number] => {
      const [along, up] = [radiusX * Math.cos(angle), radiusY * Math.sin(angle)];
      return [x + along * Math.cos(turn) - up * Math.sin(turn), y + along * Math.sin(turn) + up * Math.cos(turn)];
    };
    const slope = (angle: number): [number, number] => {
      const [along, up] = [-radiusX * Math.sin(angle), radiusY * Math.cos(angle)];
      return [along * Math.cos(turn) - up * Math.sin(turn), along * Math.sin(turn) + up * Math.cos(turn)];
    };
    const parts = Math.max(1, Math.ceil(Math.abs(sweep) / (Math.PI / 2) - 1e-9));
    const each = sweep / parts;
    // The usual cubic curve through an arc: its handles are 4/3 tan(angle/4) long.
    const handle = (4 / 3) * Math.tan(each / 4);
    this.lineTo(...place(from));
    for (let part = 0; part < parts; part++) {
      const [start, end] = [from + part * each, from + (part + 1) * each];
      const [[x0, y0], [x3, y3], [dx0, dy0], [dx3, dy3]] = [place(start), place(end), slope(start), slope(end)];
      this.bezierCurveTo(x0 + handle * dx0, y0 + handle * dy0, x3 - handle * dx3, y3 - handle * dy3, x3, y3);
    }
  }
  arcTo(x1: number, y1: number, x2: number, y2: number, radius: number): void {
    if (!areNumbers(x1, y1, x2, y2, radius) || !this.at) return;
    const [x0, y0] = this.at;
    const [ax, ay, bx, by] = [x0 - x1, y0 - y1, x2 - x1, y2 - y1];
    const [a, b] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
    const cross = ax * by - ay * bx;
    if (a === 0 || b === 0 || radius === 0 || Math.abs(cross) < 1e-9) return this.lineTo(x1, y1);
    const angle = Math.acos(Math.max(-1, Math.min(1, (ax * bx + ay * by) / (a * b))));
    const reach = radius / Math.tan(angle / 2);
    const [fromX, fromY] = [x1 + (ax / a) * reach, y1 + (ay / a) * reach];
    const [toX, toY] = [x1 + (bx / b) * reach, y1 + (by / b) * reach];
    const middle = Math.hypot(reach, radius);
    const [mx, my] = [ax / a + bx / b, ay / a + by / b];
    const length = Math.hypot(mx, my);
    const [cx, cy] = [x1 + (mx / length) * middle, y1 + (my / length) * middle];
    this.arc(cx, cy, radius, Math.atan2(fromY - cy, fromX - cx), Math.atan2(toY - cy, toX - cx), cross > 0);
  }
  roundRect(x: number, y: number, width: number, height: number, radii: number | number[] = 0): void {
    const [first = 0, ...rest] = [radii].flat();
    const [tl, tr = first, br = first, bl = tr] = [first, ...rest];
    this.moveTo(x + tl, y);
    this.lineTo(x + width - tr, y);
    if (tr) this.arcTo(x + width, y, x + width, y + tr, tr);
    this.lineTo(x + width, y + height - br);
    if (br) this.arcTo(x + width, y + height, x + width - br, y + height, br);
    this.lineTo(x + bl, y + height);
    if (bl) this.arcTo(x, y + height, x, y + height - bl, bl);
    this.lineTo(x, y + tl);
    if (tl) this.arcTo(x, y, x + tl, y, tl);
    this.closePath();
  }

  /** Puts a path on the page; whether there is anything of it. */
  private put(path: unknown): boolean {
    const { doc } = this.ink;
    if (path instanceof SvgPath) {
      if (path.d === '') return false;
      doc.path(path.d);
      return true;
    }
    for (const step of this.path) {
      if (step[0] === 'M') doc.moveTo(step[1], step[2]);
      else if (step[0] === 'L') doc.lineTo(step[1], step[2]);
      else if (step[0] === 'C') doc.bezierCurveTo(step[1], step[2], step[3], step[4], step[5], step[6]);
      else doc.closePath();
    }
    return this.path.some(([kind]) => kind !== 'M');
  }

  /** Draws in the state of the page, and leaves it as it was; paths of SVG lie in the coordinates of the canvas. */
  private painted(path: unknown, paint: () => void): void {
    if (!this.draws) return;
    const { doc } = this.ink;
    doc.save();
    if (path instanceof SvgPath) doc.transform(...this.look.matrix);
    if (this.put(path)) paint();
    doc.restore();
  }
  private colour(style: unknown): { colour: unknown; alpha: number } | null {
    if (style instanceof Gradient) {
      const [x1, y1, x2, y2] = style.line;
      const gradient = this.ink.doc.linearGradient(...this.point(x1, y1), ...this.point(x2, y2));
      let isShown = false;
      for (const [at, own] of style.stops) {
        const read = readColour(own);
        if (read) gradient.stop(at, `#${read.rgb.map((part) => part.toString(16).padStart(2, '0')).join('')}`, read.alpha);
        isShown ||= (read?.alpha ?? 0) > 0;
      }
      return isShown ? { colour: gradient, alpha: this.look.globalAlpha } : null;
    }
    const read = readColour(style);
    return read && read.alpha > 0 ? { colour: read.rgb, alpha: read.alpha * this.look.globalAlpha } : null;
  }
  fill(path?: unknown, rule?: string): void {
    const own = path instanceof SvgPath ? path : undefined;
    const even = path === 'evenodd' || rule === 'evenodd';
    this.painted(own, () => {
      const paint = this.colour(this.look.fillStyle);
      if (!paint) return void this.ink.doc.addContent('n');
      this.ink.doc.fillColor(paint.colour as PDFKit.Mixins.ColorValue, paint.alpha).fill(even ? 'even-odd' : 'non-zero');
    });
  }
  stroke(path?: unknown): void {
    const [a, b, c, d] = this.look.matrix;
    // Paths in the coordinates of the page have lines as wide as the matrix makes them.
    const scale = path instanceof SvgPath ? 1 : Math.sqrt(Math.abs(a * d - b * c));
    this.painted(path, () => {
      const paint = this.colour(this.look.strokeStyle);
      const { doc } = this.ink;
      if (!paint) return void doc.addContent('n');
      doc
        .lineWidth(this.look.lineWidth * scale)
        .lineCap(this.look.lineCap)
        .lineJoin(this.look.lineJoin)
        .miterLimit(this.look.miterLimit);
      const dash = this.look.dash.map((part) => part * scale);
      if (dash.some((part) => part > 0)) doc.dash(dash as never, { phase: this.look.lineDashOffset * scale });
      doc.strokeColor(paint.colour as PDFKit.Mixins.ColorValue, paint.alpha).stroke();
    });
  }
  clip(path?: unknown, rule?: string): void {
    if (!this.draws) return;
    const own = path instanceof SvgPath ? path : undefined;
    // What is outside of nothing is everything.
    if (!this.put(own)) this.ink.doc.rect(0, 0, 0, 0);
    this.ink.doc.clip(path === 'evenodd' || rule === 'evenodd' ? 'even-odd' : 'non-zero');
  }
  fillRect(x: number, y: number, width: number, height: number): void {
    this.aside(
      () => this.rect(x, y, width, height),
      () => this.fill(),
    );
  }
  strokeRect(x: number, y: number, width: number, height: number): void {
    this.aside(
      () => this.rect(x, y, width, height),
      () => this.stroke(),
    );
  }
  clearRect(): void {}
  private aside(build: () => void, paint: () => void): void {
    const [path, at] = [this.path, this.at];
    this.beginPath();
    build();
    paint();
    [this.path, this.at] = [path, at];
  }

  measureText(text: string): object {
    const { size, face } = readFont(this.look.font);
    const width = this.ink.width(text, face, size);
    const [above, below] = [size * 0.72, size * 0.2];
    return {
      ...{
        width,
        actualBoundingBoxLeft: 0,
        actualBoundingBoxRight: width,
        actualBoundingBoxAscent: above,
        actualBoundingBoxDescent: below,
      },
      ...{ fontBoundingBoxAscent: size * 0.984, fontBoundingBoxDescent: size * 0.273 },
    };
  }
  fillText(text: string, x: number, y: number): void {
    this.write(text, x, y, this.look.fillStyle, {});
  }
  strokeText(text: string, x: number, y: number): void {
    this.write(text, x, y, this.look.strokeStyle, { fill: false, stroke: true });
  }
  private write(text: string, x: number, y: number, style: unknown, options: PDFKit.Mixins.TextOptions): void {
    const paint = this.colour(style);
    if (!this.draws || !paint || !areNumbers(x, y) || text.trim() === '') return;
    const { doc } = this.ink;
    const { size, face } = readFont(this.look.font);
    const width = this.ink.width(text, face, size);
    const { textAlign, textBaseline, matrix, lineWidth } = this.look;
    const left = textAlign === 'center' ? x - width / 2 : textAlign === 'right' || textAlign === 'end' ? x - width : x;
    doc.save();
    doc.transform(...matrix);
    doc.font(face).fontSize(size).lineWidth(lineWidth);
    if (options.stroke) doc.strokeColor(paint.colour as PDFKit.Mixins.ColorValue, paint.alpha).lineJoin('round');
    else doc.fillColor(paint.colour as PDFKit.Mixins.ColorValue, paint.alpha);
    doc.text(text, left, y + BASELINES[textBaseline] * size, { lineBreak: false, baseline: 'alphabetic', ...options });
    doc.restore();
  }
  createLinearGradient(x1: number, y1: number, x2: number, y2: number): Gradient {
    return new Gradient([x1, y1, x2, y2]);
  }
  /** Pages have no patterns: what asks for one takes its plain colour. */
  createPattern(): null {
    return null;
  }
  drawImage(): void {}
}

/** From a line of text to the line that its letters stand on, in sizes of the letters. */
const BASELINES: Record<Look['textBaseline'], number> = {
  top: 0.74,
  hanging: 0.72,
  middle: 0.33,
  alphabetic: 0,
  ideographic: -0.2,
  bottom: -0.22,
};
