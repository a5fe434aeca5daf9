import type { PageSetup } from '@bold-compass/core/model';
import {
  groupStarts,
  pagesOfRows,
  partsOfColumns,
  type ExportCell,
  type ExportHeading,
  type ExportLine,
  type ExportTable,
  type PagedRow,
  type RowRange,
} from '@bold-compass/core/exports';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Face, type Ink } from './ink.ts';
import { arrow, bar, ground, MARK_ROOM, needle, sparkline, toneColour } from './shapes.ts';

/** Sizes of letters that are tried, the largest first, before a table is divided. */
const SIZES = [8.5, 8, 7.5, 7, 6.5];
/** Where a table is to fit its page in any case, these are read with good eyes. */
const SMALL = [6, 5.5, 5];
const [PAD, INDENT, LINE] = [7, 1.3, 1.62];
/** Labels take no more than this share of the width. */
const LABELS = 0.42;
/** Figures that stand alone have so much more room than they need. */
const LOOSEST = 6;
const FOLD = { unit: 7.5, legend: 7 };

/** How a table is measured at a size of letters. */
interface Measures {
  size: number;
  labels: number[];
  columns: number[];
}

interface Heading {
  title: string;
  /** "Exhibit 1 · thousand euro". */
  about: string;
  level: 'H2' | 'H3';
}

const faceOf = ({ strong }: Pick<ExportLine, 'strong'>): Face => (strong ? 'bold' : 'sans');

/** Room beside a figure for what is drawn with it. */
function markRoom({ state, marks }: ExportCell, size: number): number {
  const needleRoom = state === null ? 0 : size * 1.5;
  const own = (marks?.bar ? MARK_ROOM.bar : 0) + (marks?.sparkline ? MARK_ROOM.sparkline : 0) + (marks?.arrow ? MARK_ROOM.arrow : 0);
  return needleRoom + own * size;
}

/** A table over as many pages as it needs: headings stand on each of them, and the labels with each part of wide ones. */
export class TableBlock implements Block {
  constructor(
    private readonly ink: Ink,
    readonly width: number,
    private readonly table: ExportTable,
    private readonly heading: Heading,
    private readonly setup: Pick<PageSetup, 'wide' | 'keepGroups'>,
    /** What stands below it. */
    private readonly notes: readonly string[],
    /** Sentences above it. */
    private readonly sentences: readonly string[] = [],
  ) {}

  get title(): string {
    return this.heading.title;
  }

  /** What labels, figures and headings need at a size of one point: letters grow evenly. */
  private needs(): { labels: number[]; columns: number[]; headings: { from: number; count: number; width: number }[] } {
    const { ink, table } = this;
    const { labels, columns, lines, head } = table;
    const widest = (words: (line: ExportLine) => number): number => lines.reduce((most, line) => Math.max(most, words(line)), 0);
    const label = (at: number): number =>
      Math.max(
        ink.width(labels[at], 'sans', 1),
        widest((line) => ink.width(line.labels[at] ?? '', faceOf(line), 1) + (at === 0 ? line.indent * INDENT : 0)),
      );
    const figure = (at: number): number =>
      widest((line) => {
        const cell = line.cells[at];
        return cell ? ink.width(cell.text, faceOf(line), 1) + markRoom(cell, 1) : 0;
      });
    return {
      labels: labels.map((_, at) => label(at)),
      columns: columns.map((_, at) => figure(at)),
      headings: head.flat().map(({ text, from, count }) => ({ from, count, width: ink.width(text, 'bold', 1) })),
    };
  }
  private readonly needed = once(() => this.needs());

  private measured(size: number): Measures {
    const { labels, columns, headings } = this.needed();
    const own = columns.map((width) => width * size);
    // Headings over one column need its room; those over several share theirs out.
    for (const { from, count, width } of headings) {
      const wanted = width * size + PAD;
      const given = own.slice(from, from + count).reduce((sum, part) => sum + part + PAD, 0);
      if (wanted > given) for (let at = from; at < from + count; at++) own[at] += (wanted - given) / count;
    }
    return { size, labels: labels.map((width) => width * size + PAD), columns: own.map((width) => width + PAD) };
  }

  /** The largest letters that the width has room for; the smallest where none of them fit. */
  private fitted(width: number): Measures {
    const sum = (parts: readonly number[]): number => parts.reduce((total, part) => total + part, 0);
    const sizes = this.setup.wide === 'shrink' ? [...SIZES, ...SMALL] : SIZES;
    let measures = this.measured(sizes[0]);
    for (const size of sizes.slice(1)) {
      if (sum(measures.labels) + sum(measures.columns) <= width) break;
      measures = this.measured(size);
    }
    const isWide = sum(measures.labels) + sum(measures.columns) > width;
    if (isWide) measures = this.measured(SIZES[2]);
    const most = width * LABELS;
    const labels = sum(measures.labels);
    if (labels > most) measures = { ...measures, labels: measures.labels.map((own) => (own / labels) * most) };
    return measures;
  }

  /** Columns as wide as their page: what is left over is shared out, figures staying near each other. */
  private spread({ size, labels, columns }: Measures, [from, to]: RowRange, width: number): Measures {
    const own = columns.slice(from, to);
    const used = [...labels, ...own].reduce((sum, part) => sum + part, 0);
    const spare = Math.max(0, width - used);
    const each = own.length === 0 ? 0 : Math.min(spare / (own.length + 1), size * LOOSEST);
    const rest = spare - each * own.length;
    return { size, labels: labels.map((part, at) => (at === 0 ? part + rest : part)), columns: own.map((part) => part + each) };
  }

  layout(width: number, room: { first: number; next: number }): Piece[] {
    const measures = this.fitted(width);
    const { size } = measures;
    const labelWidth = measures.labels.reduce((sum, part) => sum + part, 0);
    const parts = partsOfColumns(measures.columns, groupStarts(this.table), Math.max(size, width - labelWidth));
    const line = size * LINE;
    const sentences = this.sentences.flatMap((words) => this.ink.wrapped(words, 'serif', 9.5, width));
    const above = sentences.length * 13 + (sentences.length > 0 ? 4 : 0);
    const head = this.titleHeight() + this.table.head.length * line + 4;
    const small = size < SIZES.at(-1)! ? [`Set in letters of ${size} points to fit the page.`] : [];
    const below = [...this.notes, ...this.table.legend, ...small].flatMap((words) => this.ink.wrapped(words, 'sans', FOLD.legend, width));
    const belowHeight = below.length > 0 ? below.length * FOLD.legend * 1.4 + 4 : 0;
    const { lines } = this.table;
    const rows = lines.map((own, at) => ({
      height: line,
      startsGroup: !this.setup.keepGroups || own.startsGroup || own.depth === 0,
      keepsWithNext:
        (own.strong && own.depth === 0 && (lines[at + 1]?.depth ?? 0) > 0) || (at === lines.length - 2 && lines[at + 1].role === 'total'),
    }));
    const pieces: Piece[] = [];
    // To the right first, all parts of some rows follow each other: these are the same rows for each.
    const isAcross = this.setup.wide === 'across';
    const same = isAcross ? this.pagesOf(rows, room.first - above - head, room.next - head, belowHeight) : null;
    const ranges = parts.map((_, at) => {
      const first = at === 0 ? room.first - above : room.next;
      return same ?? this.pagesOf(rows, first - head, room.next - head, at === parts.length - 1 ? belowHeight : 0);
    });
    const inTurn = parts.flatMap((part, at) => ranges[at].map((range, page) => ({ part, at, range, page })));
    if (isAcross) inTurn.sort((a, b) => a.page - b.page || a.at - b.at);
    inTurn.forEach(({ part, at, range: [from, to], page }) => {
      const own = this.spread(measures, part, width);
      const isFirst = at === 0 && page === 0;
      const isLast = at === parts.length - 1 && page === ranges[at].length - 1;
      // Nothing fits on what is left of a page: it begins on the next one.
      if (from === to && lines.length > 0) return void (isFirst && pieces.push({ height: Infinity, draw: () => undefined }));
      const state = { at, of: parts.length, continues: pieces.length > 0 };
      pieces.push({
        height: (isFirst ? above : 0) + head + (to - from) * line + (isLast ? belowHeight : 0) + 2,
        draw: (ink, x, y) => {
          let top = y;
          top = this.drawHead(ink, x, top, width, state);
          if (isFirst)
            for (const words of sentences) {
              const at = top;
              ink.tagged('P', () => ink.text(words, x, at, { face: 'serif', size: 9.5 }));
              top += 13;
            }
          if (isFirst && above > 0) top += 4;
          const endTable = ink.group('Table');
          top = this.drawColumnHeads(ink, x, top, own, part);
          for (let row = from; row < to; row++) {
            this.drawLine(ink, lines[row], x, top, own, part, row > from && lines[row].startsGroup);
            top += line;
          }
          endTable();
          ink.artifact(() => ink.rule(x, top, x + width, 1));
          top += 4;
          if (isLast)
            for (const words of below) {
              ink.tagged('P', () => ink.text(words, x, top, { size: FOLD.legend, colour: COLOURS.quiet }));
              top += FOLD.legend * 1.4;
            }
        },
      });
    });
    return pieces;
  }

  /** The rows of each page; what stands below the last of them takes its room there. */
  private pagesOf(rows: readonly PagedRow[], first: number, next: number, below: number): RowRange[] {
    const pages = pagesOfRows(rows, first, next);
    const [from, to] = pages[pages.length - 1];
    const room = pages.length === 1 ? first : next;
    const height = rows.slice(from, to).reduce((sum, row) => sum + row.height, 0);
    if (below === 0 || height + below <= room) return pages;
    const last = pagesOfRows(rows.slice(from), Math.max(0, room - below), next - below);
    return [...pages.slice(0, -1), ...last.map(([begin, end]): RowRange => [begin + from, end + from])];
  }

  private titleHeight(): number {
    return this.heading.title === '' && this.heading.about === '' ? 4 : this.heading.level === 'H2' ? 21 : 16;
  }

  private drawHead(
    ink: Ink,
    x: number,
    y: number,
    width: number,
    { at, of, continues }: { at: number; of: number; continues: boolean },
  ): number {
    const { title, about, level } = this.heading;
    const isMain = level === 'H2';
    ink.artifact(() => isMain && ink.rule(x, y, x + width, 1.2));
    if (title !== '' || about !== '') {
      const size = isMain ? 11.5 : 9;
      const face: Face = isMain ? 'title' : 'bold';
      const part = of > 1 ? `part ${at + 1} of ${of}` : '';
      const words = [about, continues ? 'continued' : '', part].filter((one) => one !== '').join(' · ');
      const room = width - (words === '' ? 0 : ink.width(words, 'sans', FOLD.unit) + 8);
      const own = ink.fitted(title, face, size, Math.max(width * 0.4, room));
      if (continues) ink.artifact(() => ink.text(own, x, y + 4, { face, size }));
      else ink.tagged(level, () => ink.text(own, x, y + (isMain ? 4 : 2), { face, size }));
      const left = x + ink.width(own, face, size) + 8;
      ink.artifact(() =>
        ink.text(ink.fitted(words, 'sans', FOLD.unit, x + width - left), left, y + (isMain ? 8 : 4), {
          size: FOLD.unit,
          colour: COLOURS.quiet,
        }),
      );
    }
    return y + this.titleHeight();
  }

  private drawColumnHeads(ink: Ink, x: number, y: number, { size, labels, columns }: Measures, [from, to]: RowRange): number {
    const line = size * LINE;
    const labelWidth = labels.reduce((sum, part) => sum + part, 0);
    const left = (column: number): number => x + labelWidth + columns.slice(0, column - from).reduce((sum, part) => sum + part, 0);
    let top = y;
    this.table.head.forEach((level, depth) => {
      const isLast = depth === this.table.head.length - 1;
      const endRow = ink.group('TR');
      if (isLast) {
        let at = x;
        this.table.labels.forEach((words, index) => {
          const own = at;
          ink.tagged(
            'TH',
            () => ink.text(ink.fitted(words, 'sans', size, labels[index] - PAD), own, top + 2, { size, colour: COLOURS.quiet }),
            { scope: 'Column' } as never,
          );
          at += labels[index];
        });
      }
      for (const segment of clipped(level, from, to)) {
        const [begin, end] = [left(segment.from), left(segment.from + segment.count)];
        const isGroup = segment.count > 1;
        const face: Face = isGroup || !isLast ? 'bold' : 'sans';
        const room = end - begin - PAD;
        const look = { face, size, colour: isLast && !isGroup ? COLOURS.quiet : COLOURS.ink, width: room };
        const align = isGroup
          ? ('center' as const)
          : this.table.columns[segment.from]?.type === 'number'
            ? ('right' as const)
            : ('left' as const);
        ink.tagged('TH', () => ink.text(ink.fitted(segment.text, face, size, room), begin + PAD, top + 2, { ...look, align }), {
          scope: 'Column',
        } as never);
        if (isGroup) ink.artifact(() => ink.rule(begin + PAD, top + line, end, 0.5, COLOURS.rule));
      }
      endRow();
      top += line;
    });
    const right = x + labelWidth + columns.reduce((sum, part) => sum + part, 0);
    ink.artifact(() => ink.rule(x, top + 1, right, 0.8));
    return top + 4;
  }

  private drawLine(
    ink: Ink,
    own: ExportLine,
    x: number,
    y: number,
    { size, labels, columns }: Measures,
    [from]: RowRange,
    hasRule: boolean,
  ): void {
    const height = size * LINE;
    const width = [...labels, ...columns].reduce((sum, part) => sum + part, 0);
    const face = faceOf(own);
    const hasGrounds = columns.some((_, at) => own.cells[from + at]?.marks?.shade);
    if (own.band || hasRule || own.role === 'total' || hasGrounds)
      ink.artifact(() => {
        if (own.band) ink.doc.rect(x, y, width, height).fill(COLOURS.band);
        if (own.role === 'total') ink.rule(x, y, x + width, 0.8);
        else if (hasRule) ink.rule(x, y, x + width, 0.4, COLOURS.rule);
      });
    const endRow = ink.group('TR');
    const baseline = y + (height - size * 1.25) / 2;
    let at = x;
    own.labels.forEach((words, index) => {
      const indent = index === 0 ? own.indent * INDENT * size : 0;
      const begin = at + indent;
      if (words !== '')
        ink.tagged('TH', () => ink.text(ink.fitted(words, face, size, labels[index] - PAD / 2 - indent), begin, baseline, { face, size }), {
          scope: 'Row',
        } as never);
      at += labels[index];
    });
    columns.forEach((wide, index) => {
      const cell = own.cells[from + index];
      if (cell) this.drawCell(ink, cell, face, at, y, wide, size, this.table.columns[from + index]?.type === 'number');
      at += wide;
    });
    endRow();
  }

  private drawCell(ink: Ink, cell: ExportCell, face: Face, x: number, y: number, width: number, size: number, isNumber: boolean): void {
    const height = size * LINE;
    const { marks, state } = cell;
    const baseline = y + (height - size * 1.25) / 2;
    const hasNeedle = state !== null && state !== 'none';
    if (marks?.shade || marks?.rule?.look === 'ground')
      ink.artifact(() => ground(ink, marks, x + PAD / 2, y + 0.5, width - PAD / 2, height - 1));
    let left = x + PAD;
    if (marks?.bar) {
      const room = MARK_ROOM.bar * size - 4;
      ink.artifact(() => bar(ink, marks, left, y, room, height));
      left += MARK_ROOM.bar * size;
    }
    if (marks?.sparkline) {
      const room = MARK_ROOM.sparkline * size - 6;
      const begin = marks.sparkline.hasFigure ? left : x + width - room;
      ink.artifact(() => sparkline(ink, marks, begin, y, room, height));
      left += MARK_ROOM.sparkline * size;
    }
    const rule = marks?.rule && marks.rule.look !== 'bar' ? marks.rule : null;
    const colour = rule ? toneColour(rule.tone) : cell.warns ? COLOURS.off : cell.value === null ? COLOURS.quiet : COLOURS.ink;
    const own: Face = rule?.look === 'strong' ? 'bold' : face;
    const rightRoom = (state === null ? 0 : size * 1.5) + (marks?.arrow ? MARK_ROOM.arrow * size : 0);
    const right = x + width - rightRoom;
    const hidesFigure = marks?.sparkline && !marks.sparkline.hasFigure;
    const words = hidesFigure ? '' : ink.fitted(cell.text, own, size, Math.max(4, right - left));
    ink.tagged('TD', () => {
      const look = { face: own, size, colour, width: right - left };
      ink.text(words, left, baseline, {
        ...look,
        align: isNumber || typeof cell.value === 'number' || cell.value === null ? 'right' : 'left',
      });
    });
    if (marks?.arrow) ink.artifact(() => arrow(ink, marks, right + 1, y + height * 0.18, size));
    if (hasNeedle)
      ink.artifact(() => needle(ink, state, cell.bearing, x + width - size * 1.3, y + (height - size * 1.15) / 2, size * 1.15));
  }
}

/** Calculated when it is first asked for, and then kept. */
function once<Value>(make: () => Value): () => Value {
  let made: { value: Value } | undefined;
  return () => (made ??= { value: make() }).value;
}

/** Headings as far as they stand over some columns. */
function clipped(level: readonly ExportHeading[], from: number, to: number): ExportHeading[] {
  return level.flatMap((heading) => {
    const [begin, end] = [Math.max(from, heading.from), Math.min(to, heading.from + heading.count)];
    return end > begin ? [{ ...heading, from: begin, count: end - begin }] : [];
  });
}
