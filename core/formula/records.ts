import type { RecordExpression } from '../engine/index.ts';
import { AGGREGATES, findField, findMeasure, isAggregate } from '../model/index.ts';
import { conditionOf, quoted, resolveField, type FormulaContext } from './conditions.ts';
import { RECORD_FUNCTIONS } from './functions.ts';
import { nearestName } from './names.ts';
import { FormulaError, type Syntax } from './syntax.ts';

export function constantOf(text: string): RecordExpression {
  const scale = text.includes('.') ? text.length - text.indexOf('.') - 1 : 0;
  return { kind: 'constant', value: Number(text), scale };
}

/** Turns a formula with one value per record into what the engine runs. Throws FormulaError. */
export function recordExpressionOf(context: FormulaContext, node: Syntax): RecordExpression {
  const convert = (part: Syntax): RecordExpression => recordExpressionOf(context, part);
  switch (node.kind) {
    case 'number':
      return constantOf(node.text);
    case 'name':
      if (!findField(context.dataset, node.name) && findMeasure(context.dataset, node.name)) {
        throw new FormulaError({ code: 'aggregate-in-record', span: node.span, subject: node.name });
      }
      return { kind: 'field', name: resolveField(context, node.name, node.span) };
    case 'negative':
      return { kind: 'negate', operand: convert(node.operand) };
    case 'binary':
      if (node.op === '||') throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(context, node.span) });
      return { kind: 'arithmetic', op: node.op, left: convert(node.left), right: convert(node.right) };
    case 'case':
      return node.branches.reduceRight<RecordExpression | null>(
        (otherwise, branch) => ({ kind: 'choose', when: conditionOf(context, branch.when), then: convert(branch.then), otherwise }),
        node.otherwise && node.otherwise.kind !== 'null' ? convert(node.otherwise) : null,
      )!;
    case 'call': {
      const known = Object.hasOwn(RECORD_FUNCTIONS, node.name) ? RECORD_FUNCTIONS[node.name] : undefined;
      if (known) {
        if (known.fits(node.args.length)) return known.build(context, node.args, convert);
        throw new FormulaError({ code: 'argument-count', span: node.span, subject: node.name, hint: known.takes });
      }
      if (isAggregate(node.name))
        throw new FormulaError({ code: 'aggregate-in-record', span: node.span, subject: quoted(context, node.span) });
      throw new FormulaError({
        code: 'unknown-function',
        span: node.span,
        subject: node.name,
        hint: nearestName(node.name, [...Object.keys(RECORD_FUNCTIONS), ...Object.keys(AGGREGATES)]),
      });
    }
    default:
      throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(context, node.span) });
  }
}
