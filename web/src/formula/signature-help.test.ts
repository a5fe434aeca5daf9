import { FUNCTION_HELP } from '@bold-compass/core/formula';
import { describe, expect, it } from 'vitest';
import { openCall, signatureParts } from './signature-help.ts';

describe('the call that the cursor stands in', () => {
  /** The bar is the cursor. */
  it.each([
    ['sum(|', 'sum', 0],
    ['share(net_sales, of: |', 'share', 1],
    ['growth(sum(quantity), |', 'growth', 1],
    ['growth(sum(|quantity), 1 year)', 'sum', 0],
    ['round((net_sales + 1) * |2, 0)', 'round', 0],
    ["sum(net where channel = '(a, b' and |", 'sum', 0],
    ['sum(net -- of (all,\n, |', 'sum', 1],
    ['IF(a > b, a, |', 'if', 2],
    ['(1 + rank (net|', 'rank', 0],
  ])('%s is of %s, argument %i', (written, name, argument) => {
    const at = written.indexOf('|');
    expect(openCall(written.replace('|', ''), at)).toMatchObject({ name, argument });
  });
  it.each(['net_sales |', 'sum(quantity)|', "'text ( |", '(a + |b)', '-- note ( |'])('%s is of none', (written) => {
    expect(openCall(written.replace('|', ''), written.indexOf('|'))).toBeNull();
  });
});

describe('a signature', () => {
  it('is cut at the argument at hand, and is whole again together', () => {
    expect(signatureParts('growth(measure, 1 year)', 1)).toEqual(['growth(measure,', ' 1 year', ')']);
    for (const { signature } of FUNCTION_HELP)
      for (const argument of [0, 1, 5]) expect(signatureParts(signature, argument).join('')).toBe(signature);
  });
});
