import { axisDrawing, figureUnits, isLying, partsDrawing, type ChartFigure } from '@bold-compass/core/chart';
import {
  groupStarts,
  pagesOfRows,
  partsOfColumns,
  type ChartPart,
  type ExportDocument,
  type ExportPart,
  type ExportTable,
  type FiguresPart,
  type RowRange,
  type TablePart,
} from '@bold-compass/core/exports';
import { STATE_WORDS, type State } from '@bold-compass/core/indicators';
import type { ChartKindName, NumberFormat } from '@bold-compass/core/model';
import { PAPER_TOKENS } from '@bold-compass/charts';
import PptxGenJS from 'pptxgenjs';
import { formatCode, plainText } from './spreadsheet.ts';
import { counted, sectioned, type ExportWriter } from './writer.ts';

/** Typefaces that programs for slides have everywhere, and the colours of the look. */
const [SERIF, SANS] = ['Georgia', 'Arial'];
const [INK, QUIET, RULE] = ['18252F', '51606B', 'D9D4C7'];
const STATES: Record<State, string> = { ahead: '1F7A58', on: '1F7A58', drifting: '8A5509', off: 'A5332A', far: 'A5332A', none: QUIET };
/** A slide of 16 by 9, in inches. */
const [WIDTH, MARGIN] = [13.333, 0.5];
const [TOP, FOOT] = [1.35, 7.1];
const ROW = 0.27;
const [SIZE, LABEL, COLUMN] = [10, 2.6, 0.95];

const hex = (colour: string): string =>
  (colour.match(/\d+/g) ?? [])
    .map((part) => Number(part).toString(16).padStart(2, '0'))
    .join('')
    .toUpperCase();
const COLOURS = PAPER_TOKENS.series.map(hex);

type Slide = PptxGenJS.Slide;

/** The slides of a document, with what stands on each of them. */
class Deck {
  readonly show = new PptxGenJS();
  count = 0;

  constructor(private readonly document: ExportDocument) {
    this.show.layout = 'LAYOUT_WIDE';
    this.show.title = plainText(document.title);
    this.show.author = plainText(document.madeFor);
    this.show.theme = { headFontFace: SERIF, bodyFontFace: SANS };
  }

  /** A slide with its title, what the figures are of, and where they come from. */
  slide(title: string, about: string, notes: readonly string[]): Slide {
    const { scope, dataAsOf, edition, madeFor, access } = this.document;
    const slide = this.show.addSlide();
    this.count++;
    slide.addText(plainText(title), {
      x: MARGIN,
      y: 0.3,
      w: WIDTH - 2 * MARGIN,
      h: 0.55,
      fontFace: SERIF,
      fontSize: 22,
      bold: true,
      color: INK,
      fit: 'shrink',
    });
    const line = [about, scope].filter((words) => words !== '').join(' · ');
    slide.addText(plainText(line), {
      x: MARGIN,
      y: 0.82,
      w: WIDTH - 2 * MARGIN,
      h: 0.4,
      fontFace: SANS,
      fontSize: 10.5,
      color: QUIET,
      valign: 'top',
    });
    const who = access === '' ? '' : ` · For ${madeFor}, who sees: ${access}`;
    slide.addText(plainText(`Data as of ${dataAsOf} · ${edition}${who}`), {
      x: MARGIN,
      y: FOOT,
      w: WIDTH - 3,
      h: 0.25,
      fontFace: SANS,
      fontSize: 8,
      color: QUIET,
    });
    slide.slideNumber = { x: WIDTH - 1.1, y: FOOT, w: 0.6, h: 0.25, fontFace: SANS, fontSize: 8, color: QUIET, align: 'right' };
    slide.addNotes(plainText([scope, ...notes].filter((words) => words !== '').join('\n')));
    return slide;
  }
}

function titleSlide(deck: Deck, { title, subtitle, note }: ExportDocument): void {
  const slide = deck.slide(title, subtitle, [note]);
  if (note !== '')
    slide.addText(plainText(note), {
      x: MARGIN,
      y: 1.6,
      w: WIDTH - 2 * MARGIN,
      h: 3,
      fontFace: SERIF,
      fontSize: 16,
      color: INK,
      valign: 'top',
    });
}

function figuresSlide(deck: Deck, part: FiguresPart): void {
  const { figures, note } = part;
  const slide = deck.slide(sectioned(part), '', [note, ...figures.map(({ label, text, words }) => `${label}: ${text}, ${words}`)]);
  const across = Math.min(4, figures.length);
  const each = (WIDTH - 2 * MARGIN) / across;
  figures.forEach(({ label, text, state, words }, index) => {
    const [x, y] = [MARGIN + (index % across) * each, TOP + 0.3 + Math.floor(index / across) * 1.7];
    slide.addText(
      [
        { text: plainText(label), options: { fontSize: 12, color: QUIET, breakLine: true } },
        { text: plainText(text), options: { fontFace: SERIF, fontSize: 26, bold: true, color: INK, breakLine: true } },
        { text: state === 'none' ? '' : `${STATE_WORDS[state]} · `, options: { fontSize: 11, bold: true, color: STATES[state] } },
        { text: plainText(words), options: { fontSize: 11, color: QUIET } },
      ],
      { x, y, w: each - 0.2, h: 1.5, fontFace: SANS, valign: 'top' },
    );
  });
}

const border = (pt: number, color: string) => ({ type: 'solid' as const, pt, color });
const NO_BORDER = { type: 'none' as const };

/** A part of a table as native cells: its headings, then some of its lines. */
function cellsOf({ labels, head, columns, lines }: ExportTable, [from, to]: RowRange, [first, end]: RowRange): PptxGenJS.TableRow[] {
  const cell = (words: string, options: PptxGenJS.TableCellProps): PptxGenJS.TableCell => ({
    text: plainText(words),
    options: {
      fontFace: SANS,
      fontSize: SIZE,
      color: INK,
      margin: [0.02, 0.06, 0.02, 0.06],
      border: [NO_BORDER, NO_BORDER, NO_BORDER, NO_BORDER],
      ...options,
    },
  });
  const rows: PptxGenJS.TableRow[] = head.map((level, depth) => {
    const isLast = depth === head.length - 1;
    const below = isLast ? border(1, INK) : border(0.5, RULE);
    const options = { bold: true, border: [NO_BORDER, NO_BORDER, below, NO_BORDER] as PptxGenJS.TableCellProps['border'] };
    const row: PptxGenJS.TableRow = labels.map((words) => cell(isLast ? words : '', { ...options, align: 'left' }));
    let at = from;
    for (const heading of level) {
      const [begin, stop] = [Math.max(from, heading.from), Math.min(to, heading.from + heading.count)];
      if (stop <= begin) continue;
      for (; at < begin; at++) row.push(cell('', options));
      row.push(
        cell(heading.text, {
          ...options,
          colspan: stop - begin,
          align: stop - begin > 1 ? 'center' : columns[begin]?.type === 'number' ? 'right' : 'left',
        }),
      );
      at = stop;
    }
    for (; at < to; at++) row.push(cell('', options));
    return row;
  });
  for (const line of lines.slice(first, end)) {
    const above = line.role === 'total' ? border(1, INK) : line.startsGroup ? border(0.5, RULE) : NO_BORDER;
    const options = { bold: line.strong, border: [above, NO_BORDER, NO_BORDER, NO_BORDER] as PptxGenJS.TableCellProps['border'] };
    rows.push([
      ...line.labels.map((words, index) => cell(`${index === 0 ? '   '.repeat(line.indent) : ''}${words}`, { ...options, align: 'left' })),
      ...line.cells.slice(from, to).map((own, index) =>
        cell(own.text, {
          ...options,
          align: columns[from + index]?.type === 'number' ? 'right' : 'left',
          ...(own.state && own.state !== 'none' ? { color: STATES[own.state] } : own.warns ? { color: STATES.off } : {}),
        }),
      ),
    ]);
  }
  return rows;
}

/** A table over as many slides as it needs, headings on each of them. */
function tableSlides(
  deck: Deck,
  part: Pick<TablePart, 'title' | 'section' | 'number' | 'note'>,
  table: ExportTable,
  sentences: readonly string[],
): void {
  const wide = WIDTH - 2 * MARGIN;
  const labelWidth = Math.min(wide * 0.4, LABEL * table.labels.length);
  const each = Math.min(2, Math.max(COLUMN, (wide - labelWidth) / Math.max(1, table.columns.length)));
  const parts = partsOfColumns(
    table.columns.map(() => each),
    groupStarts(table),
    wide - labelWidth,
  );
  const room = FOOT - TOP - 0.2 - table.head.length * ROW - Math.min(2, sentences.length) * 0.35;
  const rows = table.lines.map(({ startsGroup, depth }) => ({
    height: ROW,
    startsGroup: startsGroup || depth === 0,
    keepsWithNext: false,
  }));
  const pages = pagesOfRows(rows, room, room);
  const of = parts.length * pages.length;
  parts.forEach((columns, at) =>
    pages.forEach((lines, page) => {
      const place = of > 1 ? `${at * pages.length + page + 1} of ${of}` : '';
      const about = [part.number > 0 ? `Exhibit ${part.number}` : '', table.caption, table.unit, place]
        .filter((words) => words !== '')
        .join(' · ');
      const slide = deck.slide(sectioned(part), about, [part.note, ...sentences, ...table.legend]);
      let top = TOP;
      for (const words of sentences.slice(0, 2)) {
        slide.addText(plainText(words), { x: MARGIN, y: top, w: wide, h: 0.35, fontFace: SERIF, fontSize: 13, color: INK });
        top += 0.35;
      }
      slide.addTable(cellsOf(table, columns, lines), {
        ...{ x: MARGIN, y: top, rowH: ROW, autoPage: false },
        colW: [...table.labels.map(() => labelWidth / table.labels.length), ...table.columns.slice(...columns).map(() => each)],
      });
    }),
  );
}

/** How a kind of chart is drawn by programs for slides; those that they do not have stand there as their table. */
const NATIVE: Partial<Record<ChartKindName, { type: 'bar' | 'line' | 'area' | 'pie' | 'doughnut' }>> = {
  column: { type: 'bar' },
  bar: { type: 'bar' },
  diverging: { type: 'bar' },
  line: { type: 'line' },
  step: { type: 'line' },
  area: { type: 'area' },
  pie: { type: 'pie' },
  ring: { type: 'doughnut' },
};

/** A value in the unit that is shown, so that the axis counts in it. */
const codeOf = (format: NumberFormat | undefined): string => (format ? formatCode(format) : 'General');

interface NativeSeries {
  name: string;
  labels: string[];
  values: number[];
}

/** The series of a chart as a native one holds them; null where it does not hold them. */
function nativeOf(figure: ChartFigure): { series: NativeSeries[]; colours: string[]; format: NumberFormat | undefined } | null {
  const kind = NATIVE[figure.kind];
  if (!kind) return null;
  if (kind.type === 'pie' || kind.type === 'doughnut') {
    const { series, parts } = partsDrawing(figure);
    if (!series || parts.some(({ value }) => value < 0)) return null;
    const own = {
      name: plainText(series.label),
      labels: parts.map(({ label }) => plainText(label)),
      values: parts.map(({ value }) => value),
    };
    return { series: [own], colours: parts.map(({ colour }) => COLOURS[colour % COLOURS.length]), format: series.format };
  }
  const { categories, series } = axisDrawing(figure);
  // Two units on one axis would say what is not so.
  if (series.length === 0 || series.some(({ second }) => second)) return null;
  // Neither would a zero where there is no value.
  if (series.some(({ values }) => categories.some(({ isForecast }, at) => !isForecast && values[at] == null))) return null;
  // What is forecast is dashed and has a range, which these charts do not have.
  const known = categories.flatMap(({ isForecast }, at) => (isForecast ? [] : [at]));
  const labels = known.map((at) => plainText(categories[at].fullLabel));
  return {
    series: series.map(({ label, values }) => ({ name: plainText(label), labels, values: known.map((at) => values[at] as number) })),
    colours: series.map(({ colour }) => COLOURS[colour % COLOURS.length]),
    format: series[0].format,
  };
}

function chartSlide(deck: Deck, part: ChartPart): void {
  const { figure, panels } = part.shown;
  const native = panels ? null : nativeOf(figure);
  if (!native) return tableSlides(deck, part, part.table, part.notes);
  const about = [`Exhibit ${part.number}`, figureUnits(figure)].filter((words) => words !== '').join(' · ');
  const slide = deck.slide(sectioned(part), about, [part.note, part.words, ...part.notes]);
  const { type } = NATIVE[figure.kind]!;
  const isRound = type === 'pie' || type === 'doughnut';
  slide.addChart(deck.show.ChartType[type], native.series, {
    ...{ x: MARGIN, y: TOP, w: WIDTH - 2 * MARGIN, h: FOOT - TOP - 0.2, altText: plainText(part.words), chartColors: native.colours },
    ...{ showLegend: isRound || native.series.length > 1, legendPos: isRound ? 'r' : 't', legendFontFace: SANS, legendFontSize: 10 },
    ...{ catAxisLabelFontFace: SANS, catAxisLabelFontSize: 10, valAxisLabelFontFace: SANS, valAxisLabelFontSize: 10 },
    ...{ valAxisLabelFormatCode: codeOf(native.format), dataLabelFormatCode: isRound ? '0.0%' : codeOf(native.format) },
    ...{ valGridLine: { color: RULE, size: 0.5 }, catGridLine: { style: 'none' }, showPercent: isRound, showValue: false },
    ...(isRound ? { holeSize: type === 'doughnut' ? 55 : 0, dataLabelFontSize: 10, dataLabelColor: type === 'pie' ? 'FFFFFF' : INK } : {}),
    ...(type === 'bar' ? { barDir: isLying(figure) ? 'bar' : 'col', barGapWidthPct: 45, catAxisLabelPos: 'low' } : {}),
    ...(type === 'bar' && part.warns ? { invertedColors: [STATES.off] } : {}),
    ...(type === 'bar' || type === 'area'
      ? { barGrouping: { grouped: 'clustered', stacked: 'stacked', share: 'percentStacked' }[figure.shape.arrangement] }
      : {}),
    ...(isLying(figure) ? { catAxisOrientation: 'maxMin', valAxisOrientation: 'minMax' } : {}),
    ...(type === 'line' ? { lineSize: 2, lineDataSymbol: 'none' } : {}),
  } as PptxGenJS.IChartOpts);
}

const SIGNS = /[*_#>`[\]]/g;

function putPart(deck: Deck, part: ExportPart): void {
  if (part.kind === 'figures') figuresSlide(deck, part);
  else if (part.kind === 'chart') chartSlide(deck, part);
  else if (part.kind === 'table') part.tables.forEach((table, at) => tableSlides(deck, part, table, at === 0 ? part.sentences : []));
  else if (part.kind === 'text' && part.text.trim() !== '') {
    const [first = '', ...rest] = part.text.replaceAll(SIGNS, '').trim().split('\n');
    const slide = deck.slide(first, '', []);
    slide.addText(plainText(rest.join('\n').trim()), {
      x: MARGIN,
      y: TOP,
      w: WIDTH - 2 * MARGIN,
      h: FOOT - TOP - 0.2,
      fontFace: SERIF,
      fontSize: 14,
      color: INK,
      valign: 'top',
    });
  }
}

/** A slide for each exhibit, with native tables and charts that can be edited there (ECMA-376, Office Open XML). */
export const slidesWriter: ExportWriter = async (document, { progress }) => {
  const deck = new Deck(document);
  titleSlide(deck, document);
  const parts = document.pages.flatMap((page) => page.parts);
  parts.forEach((part, at) => {
    putPart(deck, part);
    progress((at + 1) / (parts.length + 1));
  });
  const bytes = new Uint8Array((await deck.show.write({ outputType: 'STREAM', compression: true } as never)) as Buffer);
  return { bytes, contents: counted(deck.count, 'slide', 'slides') };
};
