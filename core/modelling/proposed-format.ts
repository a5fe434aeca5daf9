import { parseFormula, type Syntax } from '../formula/index.ts';
import {
  AGGREGATES,
  aggregateTraits,
  findField,
  findMeasure,
  isAggregate,
  type Dataset,
  type Measure,
  type NumberFormat,
} from '../model/index.ts';

type Look = Pick<Measure, 'format' | 'direction'>;

const PERCENT: NumberFormat = { kind: 'percent', decimals: 1, unit: 'one' };
const COUNT: NumberFormat = { kind: 'number', decimals: 0, unit: 'one' };
const RATIO: NumberFormat = { kind: 'number', decimals: 2, unit: 'one' };

/** The usual format and direction of what a formula comes to; undefined for a text that is no formula, and for texts and dates. */
export function proposedLook(dataset: Dataset, formula: string): Look | undefined {
  try {
    return lookOf(dataset, parseFormula(formula));
  } catch {
    return undefined;
  }
}

const lookAlike = (a: NumberFormat, b: NumberFormat): boolean => a.kind === b.kind && a.currency === b.currency;

function lookOf(dataset: Dataset, node: Syntax): Look | undefined {
  const inner = (part: Syntax | undefined): Look | undefined => (part ? lookOf(dataset, part) : undefined);
  switch (node.kind) {
    case 'name': {
      const measure = findMeasure(dataset, node.name);
      return measure && { format: measure.format, direction: measure.direction };
    }
    case 'at':
    case 'back':
    case 'negative':
      return inner(node.operand);
    case 'per':
      return inner(node.operand ?? undefined);
    case 'case':
      return node.branches.map(({ then }) => inner(then)).find((look) => look !== undefined) ?? inner(node.otherwise ?? undefined);
    case 'binary': {
      const [left, right] = [inner(node.left), inner(node.right)];
      if (node.op !== '/') return left ?? right;
      if (!left || !right) return left;
      return {
        format: lookAlike(left.format, right.format) ? PERCENT : { ...left.format, ...RATIO, kind: left.format.kind },
        direction: left.direction,
      };
    }
    case 'call':
      return lookOfCall(dataset, node);
    default:
      return undefined;
  }
}

function lookOfCall(dataset: Dataset, { name, args }: Extract<Syntax, { kind: 'call' }>): Look | undefined {
  const first = args[0];
  const own = first ? lookOf(dataset, first) : undefined;
  if (name === 'rank') return { format: COUNT, direction: 'lower' };
  if (name === 'periods') return { format: COUNT, direction: 'higher' };
  if (['share', 'growth', 'cumulative_share'].includes(name)) return { format: PERCENT, direction: own?.direction ?? 'higher' };
  if (isAggregate(name) && AGGREGATES[name].counts) return { format: COUNT, direction: 'higher' };
  if (isAggregate(name) && first?.kind !== 'per') {
    const field = first?.kind === 'name' ? findField(dataset, first.name) : undefined;
    const decimals = aggregateTraits(name).decimals ?? field?.scale ?? 2;
    return { format: { kind: 'number', decimals: Math.min(decimals, 6), unit: 'one' }, direction: 'higher' };
  }
  return name === 'if' ? args[1] && lookOf(dataset, args[1]) : own;
}
