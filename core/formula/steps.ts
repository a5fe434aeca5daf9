import { isAggregate } from '../model/index.ts';
import { printFormula } from './print.ts';
import type { Syntax } from './syntax.ts';

/** As many parts of a formula are told apart. */
const MOST_STEPS = 8;

const call = (name: string, args: Syntax[], like: Syntax): Syntax => ({
  kind: 'call',
  name,
  args,
  named: [],
  where: null,
  span: like.span,
});

/** The parts of a measure formula that have a value of their own in the cell it is for. */
function partsOf(node: Syntax): Syntax[] {
  switch (node.kind) {
    case 'negative':
    case 'not':
    case 'isNull':
    case 'like':
      return [node.operand];
    case 'binary':
    case 'comparison':
    case 'and':
    case 'or':
      return [node.left, node.right];
    case 'in':
      return [node.operand, ...node.items];
    case 'between':
      return [node.operand, node.low, node.high];
    case 'at':
    case 'back':
      return [node.operand];
    case 'case':
      return [...node.branches.flatMap(({ when, then }) => [when, then]), ...(node.otherwise ? [node.otherwise] : [])];
    case 'call':
      return partsOfCall(node);
    default:
      return [];
  }
}

function partsOfCall(node: Extract<Syntax, { kind: 'call' }>): Syntax[] {
  if (isAggregate(node.name) || node.name === 'prompt') return [];
  const [first, second] = node.args;
  // Functions that compare a measure with itself elsewhere are made of both.
  if ((node.name === 'growth' || node.name === 'change') && second?.kind === 'duration')
    return [first, { kind: 'back', operand: first, duration: second, span: node.span }];
  if (node.name === 'share' && first) {
    const of = node.named.find(({ name }) => name === 'of')?.value;
    const level = of?.kind === 'name' ? of : { name: 'parent', quoted: false, span: node.span };
    return [first, { kind: 'at', operand: first, level, span: node.span }];
  }
  if (node.name === 'difference' && first) return [first, call('previous', [first], node)];
  if (node.name === 'cumulative_share' && first) return [call('running', [first], node), first];
  return node.args;
}

const isConstant = ({ kind }: Syntax): boolean => ['number', 'text', 'date', 'boolean', 'null', 'duration', 'per'].includes(kind);

/**
 * The parts of a formula that lead to its value, as formulas, the innermost first and the whole last: conditions and constants
 * are left out, and parts that are the same are one.
 */
export function stepsOf(syntax: Syntax): string[] {
  const steps = new Set<string>();
  let level: Syntax[] = [syntax];
  while (level.length > 0 && steps.size < MOST_STEPS) {
    for (const node of level) {
      if (!isConstant(node) && !isCondition(node) && steps.size < MOST_STEPS) steps.add(printFormula(node));
    }
    level = level.flatMap(partsOf);
  }
  return [...steps].reverse();
}

const isCondition = ({ kind }: Syntax): boolean => ['comparison', 'and', 'or', 'not', 'in', 'between', 'isNull', 'like'].includes(kind);
