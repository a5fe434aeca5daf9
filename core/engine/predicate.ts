import { isoDate, parseIsoDate } from '../calendar/index.ts';
import type { Dataset, Fact, Filter, Literal } from '../model/index.ts';
import { codedColumn, isMissing, type NumberColumn, type Store, type Table } from './columns.ts';
import { QueryError } from './query.ts';
import { fieldSource } from './source.ts';
import { compareText, likeTest } from './text.ts';

/** SQL's three truth values. */
const FALSE = 0;
const TRUE = 1;
const UNKNOWN = 2;
type Truth = 0 | 1 | 2;

type Leaf = Exclude<Filter, { items: Filter[] } | { op: 'not' }>;

/** Truth per entry of what the records refer to, or, where no table of entries is small enough, per record. */
export type Condition =
  { kind: 'entries'; link: string; reference: Int32Array; truth: Uint8Array } | { kind: 'rows'; test: (row: number) => Truth };

const not = (truth: Truth): Truth => (truth === UNKNOWN ? UNKNOWN : truth === TRUE ? FALSE : TRUE);
const and = (a: Truth, b: Truth): Truth => (a === FALSE || b === FALSE ? FALSE : a === TRUE && b === TRUE ? TRUE : UNKNOWN);
const or = (a: Truth, b: Truth): Truth => (a === TRUE || b === TRUE ? TRUE : a === FALSE && b === FALSE ? FALSE : UNKNOWN);
const truthOf = (holds: boolean): Truth => (holds ? TRUE : FALSE);

/** A leaf as a test on a value that is not missing; `compare` orders the value against a literal. */
function valueTest<Value>(
  leaf: Leaf,
  read: (literal: Literal) => Value,
  compare: (a: Value, b: Value) => number,
  asText: (value: Value) => string,
): (value: Value) => boolean {
  switch (leaf.op) {
    case 'eq':
    case 'ne':
    case 'lt':
    case 'le':
    case 'gt':
    case 'ge': {
      const limit = read(leaf.value);
      const tests = {
        eq: (order: number) => order === 0,
        ne: (order: number) => order !== 0,
        lt: (order: number) => order < 0,
        le: (order: number) => order <= 0,
        gt: (order: number) => order > 0,
        ge: (order: number) => order >= 0,
      };
      const test = tests[leaf.op];
      return (value) => test(compare(value, limit));
    }
    case 'in':
    case 'notIn': {
      const wanted = new Set(leaf.values.map((literal) => asText(read(literal))));
      const inside = leaf.op === 'in';
      return (value) => wanted.has(asText(value)) === inside;
    }
    case 'between': {
      const [low, high] = [read(leaf.low), read(leaf.high)];
      return (value) => compare(value, low) >= 0 && compare(value, high) <= 0;
    }
    case 'like': {
      const test = likeTest(leaf.value);
      return (value) => test(asText(value));
    }
    case 'contains':
      return (value) => asText(value).includes(leaf.value);
    case 'includes': {
      const wanted = leaf.value.toLowerCase();
      return (value) => asText(value).toLowerCase().includes(wanted);
    }
    case 'startsWith':
      return (value) => asText(value).startsWith(leaf.value);
    case 'empty':
      return () => false;
    case 'notEmpty':
      return () => true;
  }
}

/** The truth of a leaf for a missing value. Nothing, not even a missing value, is in an empty list (SQL:2003, 8.4). */
function truthOfMissing(leaf: Leaf): Truth {
  if (leaf.op === 'empty' || leaf.op === 'notEmpty') return truthOf(leaf.op === 'empty');
  if ((leaf.op === 'in' || leaf.op === 'notIn') && leaf.values.length === 0) return truthOf(leaf.op === 'notIn');
  return UNKNOWN;
}

const textTest = (leaf: Leaf): ((value: string) => boolean) => valueTest<string>(leaf, String, compareText, (value) => value);

/** Reads a literal as a number of the column's type. Throws QueryError where it is none. */
function readNumber(column: NumberColumn, field: string): (literal: Literal) => number {
  return (literal) => {
    if (column.type === 'date') {
      const day = parseIsoDate(String(literal));
      if (day === undefined) throw new QueryError('not-a-date', field, `"${literal}" is not a date. Write it as 2026-10-31.`);
      return day;
    }
    if (column.type === 'boolean') {
      if (literal === true || literal === 'true' || literal === 1) return 1;
      if (literal === false || literal === 'false' || literal === 0) return 0;
    }
    const value = typeof literal === 'boolean' ? Number.NaN : Number(literal);
    if (Number.isNaN(value) || literal === '')
      throw new QueryError('not-a-number', field, `"${literal}" is not a number, and ${field} holds numbers.`);
    return value;
  };
}

function numberTest(leaf: Leaf, column: NumberColumn): (row: number) => Truth {
  const factor = 10 ** column.scale;
  // As texts dates are what they are written as, and not the days that are counted.
  const asText = column.type === 'date' ? isoDate : String;
  const test = valueTest<number>(leaf, readNumber(column, leaf.field), (a, b) => a - b, asText);
  const missing = truthOfMissing(leaf);
  return (row) => (isMissing(column, row) ? missing : truthOf(test(column.values[row] / factor)));
}

/** Truth per member code, code 0 being "missing". */
function memberTruth(leaf: Leaf, members: string[]): Uint8Array {
  const test = textTest(leaf);
  const truth = new Uint8Array(members.length + 1);
  truth[0] = truthOfMissing(leaf);
  members.forEach((member, index) => {
    truth[index + 1] = truthOf(test(member));
  });
  return truth;
}

function tableTruth(leaf: Leaf, table: Table, column: Table['columns'][string]): Uint8Array {
  const truth = new Uint8Array(table.rows + 1);
  truth[0] = truthOfMissing(leaf);
  if (column.kind === 'number') {
    const test = numberTest(leaf, column);
    for (let row = 0; row < table.rows; row++) truth[row + 1] = test(row);
  } else {
    const { codes, members } = codedColumn(column);
    const byCode = memberTruth(leaf, members);
    for (let row = 0; row < table.rows; row++) truth[row + 1] = byCode[codes[row]];
  }
  return truth;
}

function compileLeaf(dataset: Dataset, store: Store, fact: Fact, leaf: Leaf): Condition {
  const source = fieldSource(dataset, store, fact, leaf.field);
  if (source.kind === 'own') {
    if (source.column.kind === 'number') return { kind: 'rows', test: numberTest(leaf, source.column) };
    const { codes, members } = codedColumn(source.column);
    return { kind: 'entries', link: `field ${leaf.field.toLowerCase()}`, reference: codes, truth: memberTruth(leaf, members) };
  }
  if (source.kind === 'linked') {
    return { kind: 'entries', link: source.link, reference: source.reference, truth: tableTruth(leaf, source.table, source.column) };
  }
  const byCode = memberTruth(leaf, source.coded.members);
  const truth = new Uint8Array(source.coded.codes.length + 1);
  truth[0] = byCode[0];
  source.coded.codes.forEach((code, day) => {
    truth[day + 1] = byCode[code];
  });
  return { kind: 'entries', link: source.link, reference: source.reference, truth };
}

export const rowTest = (condition: Condition): ((row: number) => Truth) => {
  if (condition.kind === 'rows') return condition.test;
  const { reference, truth } = condition;
  return (row) => truth[reference[row]] as Truth;
};

/**
 * Compiles a filter against a fact, with SQL's three-valued logic. Conditions that all look at the same linked table
 * stay truths per entry of that table; a mixture is tested record by record.
 * Throws QueryError for a field that the fact does not know or a literal that does not fit.
 */
export function compileFilter(dataset: Dataset, store: Store, fact: Fact, filter: Filter): Condition {
  if (filter.op === 'not') {
    const inner = compileFilter(dataset, store, fact, filter.item);
    if (inner.kind === 'rows') return { kind: 'rows', test: (row) => not(inner.test(row)) };
    return { ...inner, truth: inner.truth.map((truth) => not(truth as Truth)) };
  }
  if (!('items' in filter)) return compileLeaf(dataset, store, fact, filter);
  const join = filter.op === 'and' ? and : or;
  const start: Truth = filter.op === 'and' ? TRUE : FALSE;
  const items = filter.items.map((item) => compileFilter(dataset, store, fact, item));
  const [first] = items;
  if (first?.kind === 'entries' && items.every((item) => item.kind === 'entries' && item.link === first.link)) {
    const truth = first.truth.slice();
    for (const item of items.slice(1)) {
      if (item.kind === 'entries') item.truth.forEach((value, entry) => (truth[entry] = join(truth[entry] as Truth, value as Truth)));
    }
    return { ...first, truth };
  }
  const tests = items.map(rowTest);
  return { kind: 'rows', test: (row) => tests.reduce<Truth>((truth, test) => join(truth, test(row)), start) };
}

/** A filter cut into conditions that must all hold. */
export function compileConjuncts(dataset: Dataset, store: Store, fact: Fact, filter: Filter | null): Condition[] {
  if (!filter) return [];
  const items = filter.op === 'and' ? filter.items : [filter];
  return items.map((item) => compileFilter(dataset, store, fact, item));
}

export const holds = (truth: number): boolean => truth === TRUE;
