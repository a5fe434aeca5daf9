import type { ListRequest, ListResponse, ListRow, TotalValue } from '../api/index.ts';
import { AxisTree, nodesOfGroups, pathCondition, reasonNotKnown, type Cube } from '../crosstab/index.ts';
import { isoDate } from '../calendar/index.ts';
import { planMeasure } from '../formula/index.ts';
import type { AggregateValues, QueryResult, RecordPage } from '../engine/index.ts';
import { allOf, axisOver, factNamed, type Filter, type List, type ListColumn } from '../model/index.ts';
import { cubeFor } from './cells.ts';
import { labelsFor, naturalOrder, type AnswerContext, type CompareMembers } from './context.ts';
import { AnswerError } from './errors.ts';

/** A window of lines; without an order of the reader's it is the list's own. */
type ListPageRequest = Pick<ListRequest, 'order' | 'offset' | 'limit'>;

/** Groups that a list may have; more would be too many to lay out for each page. */
const MOST_GROUPS = 200_000;

/** A line of a list as it is laid out: one of a group, or a run of its records. */
interface Segment {
  kind: 'header' | 'footer' | 'group' | 'records';
  node: number;
  /** Place of the first line. */
  at: number;
  lines: number;
}

/** The groups of a list, with what is calculated for each. */
interface Groups {
  tree: AxisTree;
  records: Map<number, number>;
  /** By node: a value for each column that has a total, in their order. */
  totals: Map<number, TotalValue[]>;
  /** Values of measures, where the list has some. */
  measures: Cube | null;
}

/** A page of a list with its totals. Throws AnswerError `question-invalid` where the fact cannot answer under the scope. */
export async function listPage(context: AnswerContext, list: List, scope: Filter | null, asked: ListPageRequest): Promise<ListResponse> {
  const request = { ...asked, order: orderOf(list, asked) };
  const fact = factNamed(context.dataset, list.fact);
  const filter = allOf(scope, list.filter, fact.filter);
  const reason = reasonNotKnown(context.dataset, fact, filter);
  if (reason) throw new AnswerError('question-invalid', reason);
  const groups = await askGroups(context, list, filter, allOf(scope, list.filter));
  const records = groups.records.get(0) ?? 0;
  if (list.groups.length === 0) {
    const { rows } = list.detail ? await pageOf(context, list, filter, request.order, request.offset, request.limit) : { rows: [] };
    return {
      ...{ records, lines: list.detail ? records : 0 },
      rows: rows.map((values, index): ListRow => ({
        kind: 'record',
        values: arrange(list, values),
        number: request.offset + index + 1,
        groups: [],
      })),
      totals: totalsOf(list, groups, 0),
    };
  }
  const orders = await Promise.all(list.groups.map(async ({ field }) => (await naturalOrder(context, field)).compare));
  const segments = layOut(orders, list, groups, request.order);
  const last = segments.at(-1);
  return {
    ...{ records, lines: last ? last.at + last.lines : 0 },
    rows: await linesOf(context, list, filter, groups, segments, request),
    totals: totalsOf(list, groups, 0),
  };
}

/** The reader's order, as far as it goes by fields of the list. */
function orderOf(list: List, { order }: ListPageRequest): ListPageRequest['order'] {
  const known = new Set([...list.columns.flatMap(({ field }) => field ?? []), ...list.groups.map(({ field }) => field)]);
  return order.length > 0 ? order.filter(({ field }) => known.has(field)) : list.order;
}

const totalled = (list: List): (ListColumn & { field: string })[] =>
  list.columns.filter((column): column is ListColumn & { field: string } => column.total !== undefined && column.field !== undefined);

async function askGroups(context: AnswerContext, list: List, filter: Filter | null, conditions: Filter | null): Promise<Groups> {
  const fields = list.groups.map(({ field }) => field);
  const columns = totalled(list);
  const measured = list.columns.flatMap(({ measure }) => (measure ? [{ measure }] : []));
  const [answer, measures] = await Promise.all([
    context.data.query({
      fact: list.fact,
      filter,
      levels: fields,
      sets: Array.from({ length: fields.length + 1 }, (_, depth) => fields.slice(0, depth).map((__, level) => level)),
      aggregates: columns.map(({ total, field }) => ({ fn: total!, argument: { kind: 'field', name: field }, where: null })),
    }),
    measured.length === 0
      ? null
      : cubeFor(context, { side: axisOver(fields), top: axisOver([]), cells: measured, filter: null }, conditions, {
          side: fields.length,
          top: 0,
        }),
  ]);
  return { ...groupsOf(answer), measures };
}

function groupsOf(answer: QueryResult): Omit<Groups, 'measures'> {
  const tree = new AxisTree();
  const records = new Map<number, number>();
  const totals = new Map<number, TotalValue[]>();
  for (const set of answer.sets) {
    const nodes = nodesOfGroups(
      tree,
      answer,
      set,
      set.levels.map((_, position) => position),
    );
    if (tree.nodes.length > MOST_GROUPS)
      throw new AnswerError('too-large', 'These are too many groups. Remove a level, or narrow the scope.');
    nodes.forEach((node, group) => {
      records.set(node, set.records[group]);
      totals.set(
        node,
        set.values.map((values) => totalValue(values, group)),
      );
    });
  }
  return { tree, records, totals };
}

/** The value of an aggregate for one group: texts and dates as such, not as the numbers they are kept by. */
function totalValue(values: AggregateValues, group: number): TotalValue {
  const value = values.values[group];
  if (Number.isNaN(value)) return null;
  if (values.type === 'date') return isoDate(value);
  return values.type === 'text' ? (values.members[value - 1] ?? null) : value;
}

/** What a measure comes to in a group: texts, and dates as ISO 8601, too. */
function measureValue(cube: Cube, measure: string, place: number): TotalValue {
  const value = cube.cell(measure, place, 0);
  return typeof value === 'number' && planMeasure(cube.plan.dataset, measure).type === 'date' ? isoDate(value) : value;
}

/** The values of a group under the list's columns; null where a column has none there. */
function totalsOf(list: List, { tree, totals, measures }: Groups, node: number): TotalValue[] {
  const columns = totalled(list);
  const own = totals.get(node) ?? [];
  const place = measures?.side.find(tree.path(node))?.id;
  return list.columns.map((column) => {
    if (column.measure) return place === undefined ? null : measureValue(measures!, column.measure, place);
    const index = columns.findIndex((one) => one === column);
    return index < 0 ? null : (own[index] ?? null);
  });
}

/** Headers, records and footers in their order. A group is ordered by its field, the way the request says. */
function layOut(orders: CompareMembers[], list: List, { tree, records }: Groups, order: ListPageRequest['order']): Segment[] {
  const segments: Segment[] = [];
  let at = 0;
  const add = (kind: Segment['kind'], node: number, lines = 1): void => {
    segments.push({ kind, node, at, lines });
    at += lines;
  };
  const visit = (id: number, depth: number): void => {
    const group = list.groups[depth - 1];
    const finest = depth === list.groups.length;
    if (finest && !list.detail) return add('group', id);
    if (group?.header) add('header', id);
    if (finest) add('records', id, records.get(id) ?? 0);
    else for (const child of ordered(id, depth)) visit(child, depth + 1);
    if (group?.footer) add('footer', id);
  };
  const ordered = (id: number, depth: number): number[] => {
    const { field } = list.groups[depth];
    const sign = order.find((one) => one.field === field)?.direction === 'desc' ? -1 : 1;
    return [...tree.nodes[id].children].sort((a, b) => sign * orders[depth](tree.nodes[a].member, tree.nodes[b].member));
  };
  visit(0, 0);
  return segments;
}

/** The lines of a window. Records of groups that lie in it whole are asked for together, those at its ends by position. */
async function linesOf(
  context: AnswerContext,
  list: List,
  filter: Filter | null,
  groups: Groups,
  segments: Segment[],
  { order, offset, limit }: ListPageRequest,
): Promise<ListRow[]> {
  const end = offset + limit;
  const shown = segments.filter(({ at, lines }) => at < end && at + lines > offset);
  const fields = list.groups.map(({ field }) => field);
  const label = await labelsFor(context, fields);
  const own = order.filter(({ field }) => !fields.includes(field));
  const whole = shown.filter(({ kind, at, lines }) => kind === 'records' && at >= offset && at + lines <= end);
  const under = (nodes: number[]): Filter | null =>
    allOf(filter, {
      op: 'or',
      items: nodes.map((node) => pathCondition(fields, groups.tree.path(node), []) ?? { op: 'and', items: [] }),
    });
  const keyOf = (path: (string | null)[]): string => JSON.stringify(path);
  const together = new Map<string, RecordPage['rows']>();
  if (whole.length > 0) {
    const count = whole.reduce((sum, { lines }) => sum + lines, 0);
    const { rows } = await context.data.records({
      ...{ fact: list.fact, filter: under(whole.map(({ node }) => node)), order: own, offset: 0, limit: count },
      columns: [...recordColumns(list), ...fields],
      keys: fields,
    });
    for (const row of rows) {
      const key = keyOf(row.slice(-fields.length) as (string | null)[]);
      together.set(key, [...(together.get(key) ?? []), row.slice(0, -fields.length)]);
    }
  }
  let number = segments
    .filter(({ kind, at }) => kind === 'records' && at < offset)
    .reduce((sum, { at, lines }) => sum + Math.min(lines, offset - at), 0);
  const rows: ListRow[] = [];
  for (const segment of shown) {
    const { kind, node, at, lines } = segment;
    const path = groups.tree.path(node);
    const labels = path.map((member, level) => label(fields[level], member));
    if (kind !== 'records') {
      rows.push({ kind, depth: path.length, groups: labels, records: groups.records.get(node) ?? 0, totals: totalsOf(list, groups, node) });
      continue;
    }
    const from = Math.max(0, offset - at);
    const count = Math.min(lines, end - at) - from;
    const values = whole.includes(segment)
      ? (together.get(keyOf(path)) ?? [])
      : (await pageOf(context, list, under([node]), own, from, count)).rows;
    for (const one of values) rows.push({ kind: 'record', values: arrange(list, one), number: ++number, groups: labels });
  }
  return rows;
}

const recordColumns = (list: List): string[] => list.columns.flatMap(({ field }) => (field ? [field] : []));

/** Record values under their columns: those of measures stay empty. */
function arrange(list: List, values: RecordPage['rows'][number]): RecordPage['rows'][number] {
  let next = 0;
  return list.columns.map(({ field }) => (field ? values[next++] : null));
}

async function pageOf(
  context: AnswerContext,
  list: List,
  filter: Filter | null,
  order: ListPageRequest['order'],
  offset: number,
  limit: number,
): Promise<RecordPage> {
  return context.data.records({ fact: list.fact, filter, columns: recordColumns(list), order, offset, limit });
}
