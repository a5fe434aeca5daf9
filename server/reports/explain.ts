import type { ExplainRequest, Explanation, Path } from '@bold-compass/core/api';
import { namesIn, parseFormula, planMeasure, printFormula } from '@bold-compass/core/formula';
import { OTHERS, pathCondition } from '@bold-compass/core/crosstab';
import { conditionWords } from '@bold-compass/core/format';
import {
  allOf,
  fieldLabel,
  fieldPlural,
  findMeasure,
  measureNamed,
  type Comparison,
  type Crosstab,
  type Filter,
  type Measure,
  type Scope,
} from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';
import { workOut, type CubeCache } from './crosstab.ts';
import { cubeFor, measureUnder, plainCrosstab } from './cubes.ts';
import { comparedWith } from './kpis.ts';
import { visibleFilter } from './visible.ts';

const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
const MOST_CHILDREN = 12;

/** Whether every member of a cross-tab is shown, each by itself. */
const isPlain = ({ conditions, side, top }: Crosstab): boolean =>
  conditions.length === 0 && [side, top].every(({ levels }) => Object.values(levels).every(({ pick }) => !pick));

/** Explains a cell: its formula, conditions and records, what it is made of, what it stands against, where it leads. */
export async function explainCell(
  desk: Desk,
  cubes: CubeCache,
  exhibit: Crosstab,
  scope: Scope,
  scopeConditionsAsked: Filter | null,
  request: ExplainRequest,
): Promise<Explanation> {
  const { dataset } = desk;
  const measure = measureNamed(dataset, request.measure);
  const depths = { side: request.side.length, top: request.top.length };
  // What conditions keep and what "all others" are is only known from the table itself.
  const { scope: scopeConditions, picked } = isPlain(exhibit)
    ? { scope: scopeConditionsAsked, picked: [] }
    : await workOut(desk, cubes, exhibit, scopeConditionsAsked, depths);
  const along = (which: 'side' | 'top'): Filter | null =>
    pathCondition(
      exhibit[which].fields,
      request[which],
      picked.filter((one) => one.which === which),
    );
  const cell = allOf(scopeConditions, exhibit.filter, along('side'), along('top'));
  const own = await measureUnder(desk, measure.name, cell);
  const [inputs, madeOf, against] = await Promise.all([
    inputValues(desk, measure, cell),
    partsOf(desk, exhibit, measure, request, cell),
    standings(desk, exhibit, measure, request, scopeConditions, cell, along('top'), own.value),
  ]);
  const told = await visibleFilter(desk, allOf(cell, ...own.records.map(({ fact }) => fact.filter)));
  return {
    value: orNull(own.value),
    reason: own.reason,
    formula: printFormula(parseFormula(measure.formula)),
    inputs,
    conditions: [...new Set(conditionWords(dataset, told, desk.label))],
    records: own.records.map(({ fact, count }) => ({ ...fact.record, count })),
    madeOf,
    against,
    drills: exhibit.drills
      // A link carries members by name: all others have none.
      .filter(() => ![...request.side, ...request.top].includes(OTHERS))
      .filter((drill) => !drill.measures || drill.measures.includes(measure.name))
      .map((drill) => ({
        report: drill.report,
        label: drill.label,
        records: own.records[0]?.count ?? 0,
        scope: cellScope(exhibit, scope, request),
      })),
  };
}

/** The scope a drill-through carries: the reader's, narrowed to the cell. */
function cellScope(exhibit: Crosstab, scope: Scope, { side, top }: ExplainRequest): Scope {
  const carried: Scope = { ...scope };
  const narrow = (fields: string[], path: Path): void => {
    path.forEach((member, level) => {
      if (member !== null) carried[fields[level]] = [member];
    });
  };
  narrow(exhibit.side.fields, side);
  narrow(exhibit.top.fields, top);
  return carried;
}

async function inputValues(desk: Desk, measure: Measure, cell: Filter | null): Promise<Explanation['inputs']> {
  const measures = [...namesIn(measure.formula)].flatMap((name) => findMeasure(desk.dataset, name) ?? []);
  return Promise.all(
    measures.map(async ({ name, label, formula }) => ({
      measure: name,
      label,
      formula: printFormula(parseFormula(formula)),
      value: orNull((await measureUnder(desk, name, cell)).value),
    })),
  );
}

/** Whether the parts of a measure add up to the whole: a sum or a count, with factors and signs only. */
function addsUp(desk: Desk, measure: Measure): boolean {
  const { expression, aggregates } = planMeasure(desk.dataset, measure.name);
  const linear = (node: typeof expression): boolean =>
    node.kind === 'aggregate' ||
    (node.kind === 'negate' && linear(node.operand)) ||
    (node.kind === 'arithmetic' && (node.op === '+' || node.op === '-') && linear(node.left) && linear(node.right));
  return linear(expression) && aggregates.every(({ call }) => call.fn === 'sum' || call.fn === 'count');
}

/** The next level down, down the side first, that the measure has values at. */
async function partsOf(
  desk: Desk,
  exhibit: Crosstab,
  measure: Measure,
  { side, top }: ExplainRequest,
  cell: Filter | null,
): Promise<Explanation['madeOf']> {
  for (const field of [exhibit.side.fields[side.length], exhibit.top.fields[top.length]]) {
    if (field === undefined) continue;
    const cube = await cubeFor(desk, plainCrosstab([measure.name], [field]), cell, { side: 1, top: 0 });
    if (cube.plan.parts.some((part) => part.query === null || part.known.side === 0)) continue;
    const children = cube.side.nodes[0].children.map((id) => ({
      id,
      member: cube.side.nodes[id].member,
      value: cube.value(measure.name, id, 0),
    }));
    const isPeriod = field === exhibit.top.fields[top.length];
    children.sort(
      (a, b) =>
        (isPeriod ? 0 : (Number.isNaN(b.value) ? -Infinity : b.value) - (Number.isNaN(a.value) ? -Infinity : a.value)) ||
        desk.compareMembers(field, a.member, b.member),
    );
    if (children.length === 0) continue;
    return {
      label: `${children.length} ${children.length === 1 ? fieldLabel(desk.dataset, field).toLowerCase() : fieldPlural(desk.dataset, field)}`,
      additive: addsUp(desk, measure),
      items: children.slice(0, MOST_CHILDREN).map(({ member, value }) => ({ label: desk.label(field, member), value: orNull(value) })),
      more: Math.max(0, children.length - MOST_CHILDREN),
    };
  }
  return null;
}

const UNIT_WORDS = { year: 'year', quarter: 'quarter', month: 'month', week: 'week', day: 'day' } as const;

function comparisonLabel(desk: Desk, against: Comparison): string {
  if (against.kind === 'measure') return measureNamed(desk.dataset, against.measure).label;
  if (against.kind === 'value') return String(against.value);
  return against.amount === 1
    ? `Same days, last ${UNIT_WORDS[against.unit]}`
    : `Same days, ${against.amount} ${UNIT_WORDS[against.unit]}s back`;
}

async function standings(
  desk: Desk,
  exhibit: Crosstab,
  measure: Measure,
  request: ExplainRequest,
  scopeConditions: Filter | null,
  cell: Filter | null,
  /** The conditions of the cell's place across the top. */
  top: Filter | null,
  value: number,
): Promise<Explanation['against']> {
  const isRatio = measure.format.kind === 'percent';
  const comparisons = exhibit.against.filter((against) => !(against.kind === 'measure' && (against.measure === measure.name || isRatio)));
  const compared = await Promise.all(
    comparisons.map(async (against): Promise<Explanation['against'][number]> => {
      const other = (await comparedWith(desk, measure.name, against, cell)).value;
      const difference = isRatio ? value - other : (value - other) / Math.abs(other);
      const known = Number.isFinite(difference);
      return {
        label: comparisonLabel(desk, against),
        value: orNull(other),
        difference: known ? difference : null,
        kind: isRatio ? 'points' : 'change',
        good: known && difference !== 0 ? difference > 0 === (measure.direction === 'higher') : null,
      };
    }),
  );
  if (!addsUp(desk, measure) || request.side.length === 0) return compared;
  const parent = request.side.slice(0, -1);
  const whole = allOf(scopeConditions, exhibit.filter, pathCondition(exhibit.side.fields, parent, []), top);
  const share = value / (await measureUnder(desk, measure.name, whole)).value;
  const name = parent.length === 0 ? 'the total' : desk.label(exhibit.side.fields[parent.length - 1], parent.at(-1) ?? null);
  return [
    ...compared,
    { label: `Share of ${name}`, value: null, difference: Number.isFinite(share) ? share : null, kind: 'share', good: null },
  ];
}
