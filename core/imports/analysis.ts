import { columnTypeSchema, type ColumnType } from '../model/index.ts';
import { z } from 'zod';
import {
  looksLikeCode,
  MOST_DIGITS,
  plainNumber,
  scaleOf,
  SHAPES,
  shapeFor,
  shapesOf,
  typeWords,
  wholeDigits,
  writtenCell,
  type Notation,
  type Shape,
} from './cells.ts';
import { readingSchema, type Reading } from './reading.ts';

/** Examples kept of everything that does not fit. */
const EXAMPLES = 50;
/** Decimal places that are offered; more are rounded. */
export const MOST_SCALE = 12;

const exampleSchema = z.object({ row: z.number(), text: z.string() });
type Example = z.infer<typeof exampleSchema>;

/** What the whole file holds in one column, whatever type is chosen for it later. */
const columnTallySchema = z.object({
  filled: z.number(),
  /** Cells that do not fit each shape, in the order of `SHAPES`, words for "no value" left out. */
  misfits: z.array(z.number()),
  examples: z.array(z.array(exampleSchema)),
  /** Words for "no value" that were met, with their number and the first rows. */
  words: z.array(z.object({ word: z.string(), count: z.number(), rows: z.array(z.number()) })),
  /** Numbers by digits after the point, for a decimal point and for a decimal comma; the last entry is "more". */
  scales: z.tuple([z.array(z.number()), z.array(z.number())]),
  /** Numbers by digits before the point, for a decimal point and for a decimal comma. */
  whole: z.tuple([z.array(z.number()), z.array(z.number())]),
  /** Cells that are numbers by their digits, but look like codes: 007, 1E5. */
  codes: z.number(),
});
type ColumnTally = z.infer<typeof columnTallySchema>;

/** What a whole file holds. */
export const analysisSchema = z.object({
  header: z.array(z.string()),
  rows: z.number(),
  /** Rows with another number of cells than the header. */
  ragged: z.object({ count: z.number(), examples: z.array(z.object({ row: z.number(), cells: z.number() })) }),
  columns: z.array(columnTallySchema),
  /** The first rows, as they stand in the file. */
  sample: z.array(z.array(z.string())),
});
export type Analysis = z.infer<typeof analysisSchema>;

/** Words for "no value" are short. */
const LONGEST_WORD = 30;
const DECIMAL_BITS = 0b1100;
const MINUS = '−'.charCodeAt(0);

const newTally = (): ColumnTally => ({
  filled: 0,
  misfits: SHAPES.map(() => 0),
  examples: SHAPES.map(() => []),
  words: [],
  scales: [new Array<number>(MOST_SCALE + 2).fill(0), new Array<number>(MOST_SCALE + 2).fill(0)],
  whole: [new Array<number>(MOST_DIGITS + 1).fill(0), new Array<number>(MOST_DIGITS + 1).fill(0)],
  codes: 0,
});

/** Looks at every row of a file once and remembers what any choice of types would meet. */
export class Analyst {
  private readonly columns: ColumnTally[] = [];
  private readonly words: Map<string, ColumnTally['words'][number]>[] = [];
  /** Cells by the shapes they fit. */
  private readonly counts: Uint32Array[] = [];
  /** Shapes that more examples are wanted of. */
  private readonly open: number[] = [];
  /** Shapes of texts seen lately: columns repeat themselves. */
  private readonly known = new Map<string, number>();
  private readonly emptyWords: Set<string>;
  private readonly sample: string[][] = [];
  private readonly ragged: Analysis['ragged'] = { count: 0, examples: [] };
  private rows = 0;

  constructor(
    private readonly header: string[],
    reading: Reading,
    private readonly sampleRows: number,
  ) {
    this.emptyWords = new Set(reading.emptyWords);
    header.forEach(() => {
      this.columns.push(newTally());
      this.words.push(new Map());
      this.counts.push(new Uint32Array(1 << SHAPES.length));
      this.open.push((1 << SHAPES.length) - 1);
    });
  }

  /** Takes in a row; `row` is its number in the file. */
  see(row: number, cells: readonly string[]): void {
    this.rows++;
    if (this.sample.length < this.sampleRows) this.sample.push([...cells]);
    if (cells.length !== this.header.length) {
      this.ragged.count++;
      if (this.ragged.examples.length < EXAMPLES) this.ragged.examples.push({ row, cells: cells.length });
      // Its cells may stand in the wrong columns: they say nothing about those.
      return;
    }
    for (let index = 0; index < this.columns.length; index++) this.seeCell(index, row, cells[index] ?? '');
  }

  private seeCell(index: number, row: number, cell: string): void {
    const text = cell.trim();
    if (text === '') return;
    if (text.length <= LONGEST_WORD && this.emptyWords.has(text)) {
      this.seeWord(index, row, text);
      return;
    }
    const tally = this.columns[index];
    tally.filled++;
    const shapes = this.look(text);
    if (shapes & DECIMAL_BITS) {
      this.seeDigits(tally, text, shapes);
      if (looksLikeCode(text)) tally.codes++;
    }
    const counts = this.counts[index];
    counts[shapes]++;
    if (~shapes & this.open[index]) this.keepExamples(index, row, text, shapes);
  }

  private seeWord(index: number, row: number, text: string): void {
    const found = this.words[index].get(text);
    if (!found) this.words[index].set(text, { word: text, count: 1, rows: [row] });
    else {
      found.count++;
      if (found.rows.length < EXAMPLES) found.rows.push(row);
    }
  }

  /** Digits after the point, under both signs. */
  private seeDigits(tally: ColumnTally, text: string, shapes: number): void {
    (['.', ','] as const).forEach((sign, which) => {
      if (!(shapes & (1 << (2 + which)))) return;
      const plain = plainNumber(text, sign)!;
      tally.scales[which][Math.min(scaleOf(plain), MOST_SCALE + 1)]++;
      tally.whole[which][wholeDigits(plain)]++;
    });
  }

  private keepExamples(index: number, row: number, text: string, shapes: number): void {
    const { examples } = this.columns[index];
    for (let shape = 0; shape < SHAPES.length; shape++) {
      if (shapes & (1 << shape) || examples[shape].length >= EXAMPLES) continue;
      examples[shape].push({ row, text: writtenCell(text, '.').slice(0, 80) });
      if (examples[shape].length === EXAMPLES) this.open[index] &= ~(1 << shape);
    }
  }

  private look(text: string): number {
    // Most cells are words: no shape begins with a letter but yes and no.
    const first = text.charCodeAt(0);
    if (first > 57 && first !== MINUS && text.length > 5) return 0;
    if (first < 58 && text.length < 8) return shapesOf(text);
    let known = this.known.get(text);
    if (known === undefined) {
      known = shapesOf(text);
      if (this.known.size > 20_000) this.known.clear();
      this.known.set(text, known);
    }
    return known;
  }

  finish(): Analysis {
    return {
      header: this.header,
      rows: this.rows,
      ragged: this.ragged,
      columns: this.columns.map((tally, index) => ({
        ...tally,
        misfits: SHAPES.map((_, shape) => this.counts[index].reduce((sum, count, shapes) => sum + (shapes & (1 << shape) ? 0 : count), 0)),
        words: [...this.words[index].values()],
      })),
      sample: this.sample.map((cells) => this.header.map((_, index) => cells[index] ?? '')),
    };
  }
}

/** What is done with what does not fit: stop, leave the cell empty, skip the row, round, keep all digits, or cut and fill the row. */
export const choiceSchema = z.enum(['stop', 'empty', 'skip', 'round', 'widen', 'cut']);
export type Choice = z.infer<typeof choiceSchema>;

/** A column of a file as it is to be brought in. */
export const importColumnSchema = z.object({
  name: z.string().trim().min(1, 'Give the column a name').max(60),
  type: columnTypeSchema,
  scale: z.number().int().min(0).max(MOST_SCALE),
  include: z.boolean(),
  empties: z.array(z.string()),
});
export type ImportColumn = z.infer<typeof importColumnSchema>;

/** Everything an analyst chose for a file. */
export const importPlanSchema = z.object({
  reading: readingSchema,
  columns: z.array(importColumnSchema).min(1),
  /** Columns that together name a record once; none where records have no key. */
  key: z.array(z.number().int().min(0)).default([]),
  /** By the name of a problem, see `findProblems`. What is not named stops. */
  choices: z.record(z.string(), choiceSchema).default({}),
});
export type ImportPlan = z.infer<typeof importPlanSchema>;

export interface Problem {
  /** Stays the same while other things change: the choice hangs on it. */
  id: string;
  kind: 'ragged' | 'misfit' | 'rounded' | 'duplicate' | 'empty-key';
  column: string;
  count: number;
  /** What is wrong, in a sentence. */
  words: string;
  /** A hint where another choice would fit. */
  hint: string;
  examples: { row: number; text: string }[];
  choices: Choice[];
  choice: Choice;
}

const NOTATIONS: { shape: Shape; words: string }[] = [
  { shape: 'date ymd', words: 'year-month-day' },
  { shape: 'date dmy', words: 'day-month-year' },
  { shape: 'date mdy', words: 'month-day-year' },
  { shape: 'datetime ymd', words: 'a date with a time' },
  { shape: 'decimal.', words: 'numbers with a decimal point' },
  { shape: 'decimal,', words: 'numbers with a decimal comma' },
];

/** Says so where the cells that do not fit are in another notation: the column mixes formats. */
function mixedHint(examples: readonly Example[], shape: Shape): string {
  for (const { shape: other, words } of NOTATIONS) {
    if (other === shape) continue;
    const bit = 1 << SHAPES.indexOf(other);
    const fitting = examples.filter(({ text }) => shapesOf(text) & bit);
    if (fitting.length * 2 >= examples.length && fitting.length > 0) return `They read as ${words}: this column mixes formats.`;
  }
  return '';
}

const signOf = ({ decimalSign }: Notation): 0 | 1 => (decimalSign === '.' ? 0 : 1);

/** Digits before the point of the largest number of a column. */
const mostWhole = (tally: ColumnTally, notation: Notation): number =>
  Math.max(
    0,
    tally.whole[signOf(notation)].findLastIndex((count) => count > 0),
  );

/** Numbers that are too large to be held exactly with some decimal places. */
const tooLarge = (tally: ColumnTally, notation: Notation, scale: number): number =>
  tally.whole[signOf(notation)].slice(MOST_DIGITS - scale + 1).reduce((sum, count) => sum + count, 0);

/** Decimal places that the numbers of a column leave room for, of the digits that are held exactly. */
export function roomFor(tally: ColumnTally, notation: Notation): number {
  return Math.max(0, Math.min(MOST_SCALE, MOST_DIGITS - mostWhole(tally, notation)));
}

function roomHint(tally: ColumnTally, notation: Notation, scale: number): string {
  const room = roomFor(tally, notation);
  if (scale < room) return `Up to ${room} decimal places can be kept: raise the number over the column.`;
  const whole = mostWhole(tally, notation);
  return `Its largest number has ${whole} digits before them, and ${MOST_DIGITS} digits in all are kept exactly. To keep every digit, import the column as text.`;
}

/**
 * Everything that does not fit under a plan, complete over the whole file. Duplicate keys are found apart, by their own
 * pass. `later` is set for a file whose records join others.
 */
export function findProblems(analysis: Analysis, plan: ImportPlan, later = false): Problem[] {
  const notation: Notation = plan.reading;
  const problems: Problem[] = [];
  const add = (problem: Omit<Problem, 'choice'>): void => {
    const chosen = plan.choices[problem.id];
    problems.push({ ...problem, choice: chosen && problem.choices.includes(chosen) ? chosen : 'stop' });
  };
  if (analysis.ragged.count > 0) {
    add({
      id: 'ragged',
      kind: 'ragged',
      column: '',
      count: analysis.ragged.count,
      words: `${analysis.ragged.count === 1 ? 'row has' : 'rows have'} another number of cells than the ${analysis.header.length} of the header`,
      hint: '',
      examples: analysis.ragged.examples.map(({ row, cells }) => ({ row, text: `${cells} ${cells === 1 ? 'cell' : 'cells'}` })),
      choices: ['stop', 'skip', 'cut'],
    });
  }
  // A key without a value names no record: it would be another one each time.
  for (const index of plan.key) {
    const column = plan.columns[index];
    const tally = analysis.columns[index];
    if (!column?.include || !tally) continue;
    const words = tally.words.filter(({ word }) => !column.empties.includes(word));
    const count = analysis.rows - analysis.ragged.count - tally.filled - words.reduce((sum, { count: own }) => sum + own, 0);
    if (count > 0) {
      add({
        id: `empty key ${index}`,
        kind: 'empty-key',
        column: column.name,
        count,
        words: `${count === 1 ? 'row has' : 'rows have'} no value in this column of the key`,
        hint: 'A key names each record. Choose other columns for it, or skip these rows.',
        examples: [],
        choices: ['stop', 'skip'],
      });
    }
  }
  plan.columns.forEach((column, index) => {
    if (!column.include) return;
    const tally = analysis.columns[index];
    const shape = shapeFor(column.type, notation);
    if (shape === undefined) return;
    const position = SHAPES.indexOf(shape);
    const words = tally.words.filter(({ word }) => !column.empties.includes(word) && !(shapesOf(word) & (1 << position)));
    const large = column.type === 'decimal' ? tooLarge(tally, notation, column.scale) : 0;
    const count = tally.misfits[position] + large + words.reduce((sum, { count: own }) => sum + own, 0);
    if (count > 0) {
      add({
        id: `misfit ${index}`,
        kind: 'misfit',
        column: column.name,
        count,
        words: `${count === 1 ? 'cell is' : 'cells are'} not ${typeWords(column.type, notation)}`,
        hint: large > 0 ? roomHint(tally, notation, column.scale) : mixedHint(tally.examples[position], shape),
        examples: [...words.flatMap(({ word, rows }) => rows.map((row) => ({ row, text: word }))), ...tally.examples[position]]
          .sort((a, b) => a.row - b.row)
          .slice(0, EXAMPLES),
        choices: ['stop', 'empty', 'skip'],
      });
    }
    if (column.type === 'decimal') {
      const scales = tally.scales[signOf(notation)];
      const finer = scales.slice(column.scale + 1).reduce((sum, own) => sum + own, 0);
      if (finer > 0) {
        add({
          id: `rounded ${index}`,
          kind: 'rounded',
          column: column.name,
          count: finer,
          words: `${finer === 1 ? 'number has' : 'numbers have'} more than ${column.scale} decimal ${column.scale === 1 ? 'place' : 'places'}`,
          hint: roomHint(tally, notation, column.scale),
          examples: [],
          // A column of records that are here already is widened with them; a new one just has more decimal places.
          choices: later ? ['stop', 'widen', 'round'] : ['stop', 'round'],
        });
      }
    }
  });
  return problems;
}

/** The narrowest type that fits all cells of a column, or else nearly all: the others are shown as problems, not made text silently. */
function guessType(tally: ColumnTally, notation: Notation, name = ''): ColumnType {
  if (tally.filled === 0 || tally.codes > 0) return 'text';
  const misfits = (type: ColumnType): number => tally.misfits[SHAPES.indexOf(shapeFor(type, notation)!)];
  const types = ['boolean', 'integer', 'decimal', 'date', 'datetime'] as const;
  const tolerated = Math.round(tally.filled * 0.2);
  const type = types.find((one) => misfits(one) === 0) ?? types.find((one) => misfits(one) <= tolerated) ?? 'text';
  return type === 'integer' && CODE_NAMES.test(name) ? 'text' : type;
}

/** What columns of codes are called: nothing is calculated with them, and their zeros count (common practice, no source). */
const CODE_NAMES =
  /(^|[^a-z])(account|iban|bic|zip|postal|postcode|plz|phone|telephone|mobile|fax|ean|gtin|isbn|issn|sku|barcode|vat)([^a-z]|$)|(^|[^a-z])(zip|post|postal|area|bank|sort|tax)[ _-]?(code|no|number|id)/i;

/** The columns of a file as found: names from the header, types from all cells. Words for "no value" count where they are all that does not fit. */
export function guessColumns(analysis: Analysis, notation: Notation): ImportColumn[] {
  const taken = new Map<string, number>();
  return analysis.header.map((name, index) => {
    const tally = analysis.columns[index];
    const type = guessType(tally, notation, name);
    const scales = tally.scales[signOf(notation)];
    const base = name.trim().slice(0, 56) || `Column ${index + 1}`;
    const number = (taken.get(base.toLowerCase()) ?? 0) + 1;
    taken.set(base.toLowerCase(), number);
    return {
      name: number === 1 ? base : `${base} ${number}`,
      type,
      scale:
        type === 'decimal'
          ? Math.min(
              roomFor(tally, notation),
              scales.findLastIndex((count) => count > 0),
            )
          : 0,
      include: true,
      empties: type === 'text' ? [] : tally.words.map(({ word }) => word),
    };
  });
}

/** The notation that most cells of the file are in. ISO dates and decimal points win where cells fit several. */
export function guessNotation(analysis: Analysis): Notation {
  const fitting = (shape: (typeof SHAPES)[number]): number =>
    analysis.columns.reduce((sum, { filled, misfits }) => {
      const own = filled - misfits[SHAPES.indexOf(shape)];
      return sum + (own >= filled * 0.5 ? own : 0);
    }, 0);
  const orders = ['ymd', 'dmy', 'mdy'] as const;
  const dates = orders.map((order) => fitting(`date ${order}`) + fitting(`datetime ${order}`));
  return {
    decimalSign: fitting('decimal,') > fitting('decimal.') ? ',' : '.',
    dateOrder: orders[dates.indexOf(Math.max(...dates))],
  };
}
