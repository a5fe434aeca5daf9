import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  Analyst,
  cellValue,
  DEFAULT_READING,
  findProblems,
  guessColumns,
  guessNotation,
  importRecipeSchema,
  planByRecipe,
  readingByRecipe,
  recipeOf,
  scaleOf,
  plainDate,
  plainDateTime,
  plainNumber,
  shapesOf,
  type Analysis,
  type ImportPlan,
} from './index.ts';

const point = { decimalSign: '.', dateOrder: 'ymd' } as const;
const comma = { decimalSign: ',', dateOrder: 'dmy' } as const;

describe('numbers', () => {
  it.each([
    ['.', '1234.5', '1234.5'],
    ['.', '1,234,567.25', '1234567.25'],
    ['.', '1,23', undefined],
    ['.', '-.5', '-0.5'],
    ['.', '−7', '-7'],
    ['.', '5.', '5'],
    ['.', '1e3', '1000'],
    ['.', '1.25E-3', '0.00125'],
    ['.', '1234567890123456', '1234567890123456'],
    ['.', '=1+1', undefined],
    ['.', '--', undefined],
    ['.', 'e0', undefined],
    ['.', '-E5', undefined],
    [',', ',e2', undefined],
    [',', '1.234,50', '1234.50'],
    [',', '1 234,5', '1234.5'],
    [',', '1234.5', undefined],
  ] as const)('with %j: %j is %j', (sign, text, value) => {
    expect(plainNumber(text, sign)).toBe(value);
  });

  it('are what JavaScript reads, whatever their notation', () => {
    fc.assert(
      fc.property(fc.integer({ min: -999_999_999, max: 999_999_999 }), fc.integer({ min: 0, max: 6 }), (units, scale) => {
        const value = units / 10 ** scale;
        const english = value.toLocaleString('en-US', { minimumFractionDigits: scale, maximumFractionDigits: scale });
        const german = value.toLocaleString('de-DE', { minimumFractionDigits: scale, maximumFractionDigits: scale });
        expect(Number(plainNumber(english, '.'))).toBe(value);
        expect(Number(plainNumber(german, ','))).toBe(value);
        expect(Number(plainNumber(value.toExponential(), '.'))).toBe(value);
      }),
    );
  });
});

describe('dates', () => {
  it.each([
    ['ymd', '2026-02-28', '2026-02-28'],
    ['ymd', '2026/2/8', '2026-02-08'],
    ['ymd', '20260228', '2026-02-28'],
    ['ymd', '2026-02-30', undefined],
    ['dmy', '31.10.2026', '2026-10-31'],
    ['dmy', '10/31/2026', undefined],
    ['mdy', '10/31/2026', '2026-10-31'],
    ['mdy', '10/31-2026', undefined],
  ] as const)('%s: %j is %j', (order, text, value) => {
    expect(plainDate(text, order)).toBe(value);
  });

  it('with a time keep the time as written (ISO 8601)', () => {
    expect(plainDateTime('2026-01-31T14:05:09Z', 'ymd')).toBe('2026-01-31 14:05:09');
    expect(plainDateTime('31.01.2026 7:05', 'dmy')).toBe('2026-01-31 07:05:00');
    expect(plainDateTime('2026-01-31 25:00', 'ymd')).toBeUndefined();
    expect(plainDateTime('2026-01-31', 'ymd')).toBeUndefined();
  });
});

it('a cell has a shape exactly where its value can be read under that notation', () => {
  const cell = fc.oneof(
    fc.string({ maxLength: 12 }),
    fc.stringMatching(/^[-+]?[0-9]{1,16}([.,][0-9]{0,4})?$/),
    fc.stringMatching(/^[0-9]{1,4}[-./][0-9]{1,2}[-./][0-9]{1,4}( [0-9]{1,2}:[0-9]{2})?$/),
    fc.constantFrom('yes', 'No', 'TRUE', 'y', 'maybe', '1.234', '1,234', '12345678'),
  );
  fc.assert(
    fc.property(cell, (text) => {
      fc.pre(text.trim() !== '' && text.trim() === text);
      const shapes = shapesOf(text);
      const fits = (bit: number): boolean => (shapes & (1 << bit)) !== 0;
      const reads = (type: 'integer' | 'decimal' | 'date' | 'datetime' | 'boolean', notation: typeof point | typeof comma): boolean =>
        cellValue({ type, scale: 0, empties: [] }, notation, text) !== undefined;
      expect(fits(0)).toBe(reads('integer', point));
      expect(fits(1)).toBe(reads('integer', comma));
      expect(fits(2)).toBe(reads('decimal', point));
      expect(fits(3)).toBe(reads('decimal', comma));
      expect(fits(4)).toBe(reads('date', point));
      expect(fits(5)).toBe(reads('date', comma));
      expect(fits(7)).toBe(reads('datetime', point));
      expect(fits(8)).toBe(reads('datetime', comma));
      expect(fits(10)).toBe(reads('boolean', point));
    }),
    { numRuns: 2_000 },
  );
});

function analysed(rows: string[][], header = rows[0].map((_, index) => `c${index}`)): Analysis {
  const analyst = new Analyst(header, DEFAULT_READING, 100);
  rows.forEach((cells, index) => analyst.see(index + 2, cells));
  return analyst.finish();
}
function planFor(analysis: Analysis, change: Partial<ImportPlan> = {}): ImportPlan {
  const notation = guessNotation(analysis);
  return { reading: { ...DEFAULT_READING, ...notation }, columns: guessColumns(analysis, notation), key: [], choices: {}, ...change };
}

describe('what a whole file holds', () => {
  it('is told apart by most of its cells: notation, types, digits, words for empty', () => {
    const analysis = analysed([
      ['1.234,5', '31.01.2026', 'NA', 'a', 'ja'],
      ['2,25', '28.02.2026', '7', 'b', 'nein'],
      ['-3', '01.03.2026', '8', '', 'ja'],
    ]);
    const plan = planFor(analysis);
    expect(plan.reading).toMatchObject({ decimalSign: ',', dateOrder: 'dmy' });
    expect(plan.columns.map(({ type, scale, empties }) => [type, scale, empties])).toEqual([
      ['decimal', 2, []],
      ['date', 0, []],
      ['integer', 0, ['NA']],
      ['text', 0, []],
      ['text', 0, []],
    ]);
    expect(findProblems(analysis, plan)).toEqual([]);
  });

  it('keeps the type of nearly all cells, and shows the others as problems with their rows', () => {
    const analysis = analysed([['1'], ['2'], ['3'], ['x'], ['5'], ['6']], ['amount']);
    const plan = planFor(analysis);
    expect(plan.columns[0].type).toBe('integer');
    const [problem, ...rest] = findProblems(analysis, plan);
    expect(rest).toEqual([]);
    expect(problem).toMatchObject({ id: 'misfit 0', column: 'amount', count: 1, examples: [{ row: 5, text: 'x' }], choice: 'stop' });
    const [decided] = findProblems(analysis, { ...plan, choices: { 'misfit 0': 'empty' } });
    expect(decided.choice).toBe('empty');
  });

  it('counts a word for "no value" as a problem where the analyst says it is none', () => {
    const analysis = analysed([['1'], ['NULL'], ['NULL'], ['4'], ['5'], ['6']]);
    const plan = planFor(analysis);
    const strict = { ...plan, columns: [{ ...plan.columns[0], empties: [] }] };
    expect(findProblems(analysis, plan)).toEqual([]);
    expect(findProblems(analysis, strict)).toMatchObject([{ count: 2, examples: [{ row: 3 }, { row: 4 }] }]);
  });

  it('says where a column mixes formats', () => {
    const analysis = analysed([...Array.from({ length: 9 }, (_, day) => [`2026-01-0${day + 1}`]), ['31.01.2026']]);
    expect(findProblems(analysis, planFor(analysis))).toMatchObject([
      { count: 1, hint: 'They read as day-month-year: this column mixes formats.' },
    ]);
  });

  it('counts rows of another width once, and numbers that would be rounded', () => {
    const analysis = analysed([['1.25', 'a'], ['2.5'], ['3.125', 'b', 'c'], ['4.125', 'd']]);
    const plan = planFor(analysis);
    const coarse = { ...plan, columns: plan.columns.map((column) => ({ ...column, scale: Math.min(column.scale, 1) })) };
    expect(findProblems(analysis, coarse).map(({ id, count }) => [id, count])).toEqual([
      ['ragged', 2],
      ['rounded 0', 2],
    ]);
  });

  it('counts every misfit under every type, as reading each cell does', () => {
    const cells = fc.array(fc.constantFrom('1', '2.5', '3,5', '2026-01-05', '05.01.2026', 'yes', 'x', '', 'NA', '1,234'), {
      minLength: 1,
      maxLength: 40,
    });
    fc.assert(
      fc.property(cells, fc.constantFrom('integer', 'decimal', 'date', 'boolean' as const), (column, type) => {
        const analysis = analysed(column.map((cell) => [cell]));
        const rule = { name: 'c', type, scale: 6, include: true, empties: ['NA'] } as const;
        const plan = { ...planFor(analysis), columns: [{ ...rule, empties: [...rule.empties] }] };
        const misfits = column.filter((cell) => cellValue(rule, plan.reading, cell) === undefined).length;
        expect(findProblems(analysis, plan).reduce((sum, { count }) => sum + count, 0)).toBe(misfits);
      }),
    );
  });
});

describe('numbers that would lose digits, and codes that are no numbers', () => {
  const reading = DEFAULT_READING;
  const analysed = (header: string, cells: string[]) => {
    const analyst = new Analyst([header], reading, 10);
    cells.forEach((cell, row) => analyst.see(row + 2, [cell]));
    return analyst.finish();
  };
  const found = (header: string, cells: string[]) => guessColumns(analysed(header, cells), reading)[0];

  it.each([
    ['code', ['007', '012', '110'], 'text'],
    ['part', ['1E5', '2E10', '120'], 'text'],
    ['measured', ['1.5E5', '1e-05', '120'], 'decimal'],
    ['Postal code', ['11122', '41118'], 'text'],
    ['Account', ['1200', '1300'], 'text'],
    ['iban_no', ['1200'], 'text'],
    ['accounting period', ['1', '2'], 'integer'],
    ['id', ['12345678901234567', '12345678901234568'], 'text'],
    ['id', ['123456789012345'], 'integer'],
    ['zero', ['0', '0.5', '0'], 'decimal'],
    ['ratio', ['0.00001234', '1'], 'decimal'],
  ])('%s: %j is %s', (header, cells, type) => {
    expect(found(header, cells).type).toBe(type);
  });

  it('keeps as many decimal places as are exact, and counts what would be rounded', () => {
    expect(found('ratio', ['0.00001234'])).toMatchObject({ type: 'decimal', scale: 8 });
    const analysis = analysed('amount', ['123456789012345', '0.123456', '2.5']);
    const [column] = guessColumns(analysis, reading);
    expect(column).toMatchObject({ type: 'decimal', scale: 0 });
    const [problem] = findProblems(analysis, { reading, columns: [column], key: [], choices: {} });
    expect(problem).toMatchObject({ id: 'rounded 0', count: 2, choice: 'stop', choices: ['stop', 'round'] });
    expect(problem.hint).toContain('15 digits before');
    // With more decimal places than there is room for, the large number does not fit.
    const [misfit] = findProblems(analysis, { reading, columns: [{ ...column, scale: 6 }], key: [], choices: {} });
    expect(misfit).toMatchObject({ id: 'misfit 0', count: 1, choice: 'stop', choices: ['stop', 'empty', 'skip'] });
    expect(misfit.hint).toContain('15 digits before');
    expect(cellValue({ type: 'decimal', scale: 6, empties: [] }, reading, '123456789012345')).toBeUndefined();
    // More than 15 digits in all: offered as decimals with rounding, not made text in silence.
    const long = analysed('value', ['1234567890.12345678', '2.5']);
    expect(guessColumns(long, reading)[0]).toMatchObject({ type: 'decimal', scale: 5 });
    expect(findProblems(long, { reading, columns: guessColumns(long, reading), key: [], choices: {} })).toMatchObject([{ count: 1 }]);
  });

  it('what is held keeps every digit as a double of scaled units', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^-?(0|[1-9][0-9]{0,15})(\.[0-9]{1,12})?$/), fc.integer({ min: 0, max: 12 }), (text, scale) => {
        const value = cellValue({ type: 'decimal', scale, empties: [] }, reading, text);
        if (typeof value !== 'string' || scaleOf(value) > scale) return;
        const [whole, fraction = ''] = value.replace('-', '').split('.');
        const units = BigInt(whole + fraction.slice(0, scale).padEnd(scale, '0'));
        expect(BigInt(Number(units))).toBe(units);
      }),
    );
  });
});

describe('a recipe', () => {
  const header = ['Date', 'Shop', 'Amount', 'Note'];
  const plan: ImportPlan = {
    reading: { ...DEFAULT_READING, decimalSign: ',', dateOrder: 'dmy' },
    columns: [
      { name: 'Day', type: 'date', scale: 0, include: true, empties: [] },
      { name: 'Shop', type: 'text', scale: 0, include: true, empties: ['-'] },
      { name: 'Amount', type: 'decimal', scale: 2, include: true, empties: [] },
      { name: 'Note', type: 'text', scale: 0, include: false, empties: [] },
    ],
    key: [0, 1],
    choices: { 'misfit 2': 'empty', ragged: 'skip' },
  };
  const names = new Map([
    [0, 'day'],
    [1, 'shop'],
    [2, 'amount'],
  ]);
  const recipe = recipeOf(plan, header, names, []);

  it('reads a later file with its columns in another order as the first one', () => {
    const analyst = new Analyst(['Amount', 'New', 'Shop', 'Date', 'Note'], DEFAULT_READING, 10);
    analyst.see(2, ['1,5', 'x', '-', '03.04.2026', '']);
    const later = planByRecipe(recipe, analyst.finish(), plan.reading, ['day', 'shop']);
    expect(later.columns.map(({ name, type, include }) => [name, type, include])).toEqual([
      ['Amount', 'decimal', true],
      ['New', 'text', false],
      ['Shop', 'text', true],
      ['Day', 'date', true],
      ['Note', 'text', false],
    ]);
    expect(later).toMatchObject({ key: [3, 2], choices: { 'misfit 0': 'empty', ragged: 'skip' } });
  });

  it('keeps how the later file itself is written', () => {
    const found = { ...DEFAULT_READING, delimiter: '\t', encoding: 'utf-16le' } as const;
    expect(readingByRecipe(recipe, found, [])).toMatchObject({ delimiter: '\t', encoding: 'utf-16le', decimalSign: ',', dateOrder: 'dmy' });
  });

  it('survives being written down', () => {
    expect(importRecipeSchema.parse(JSON.parse(JSON.stringify(recipe)))).toEqual(JSON.parse(JSON.stringify(recipe)));
  });
});
