import { TooManyOthersError } from '@bold-compass/core/crosstab';
import { CrosstabTooLargeError, QueryError, TooManyGroupsError } from '@bold-compass/core/engine';
import { FormulaError } from '@bold-compass/core/formula';
import { UnknownNameError } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { isUnreachable, sqlState } from '../database/index.ts';
import { ApiError, asApiError } from '../problems/index.ts';
import { portable, revived } from './failures.ts';

/** As it is sent: plain data, cloned. */
const across = (error: unknown): Error => revived(structuredClone(portable(error)));

describe('a failure on its way between threads', () => {
  it.each([
    [new ApiError('rows-refused', 'Row 3 holds “x”.', { row: 3 }), 'rows-refused'],
    [new TooManyGroupsError(5), 'too-large'],
    [new TooManyOthersError(400), 'too-large'],
    [new CrosstabTooLargeError(9, 8), 'too-large'],
    [new QueryError('not-comparable', 'day', 'day is a date.'), 'question-invalid'],
    [new UnknownNameError('x', 'field', 'Sales'), 'question-invalid'],
    [new FormulaError({ code: 'syntax', from: 0, to: 1, subject: ')' } as never), 'formula-invalid'],
  ])('is answered as what it is: %s', (error, code) => {
    const there = across(error);
    expect(there.constructor).toBe(error.constructor);
    expect({ ...there, message: there.message }).toEqual({ ...error, message: error.message });
    expect(asApiError(there).code).toBe(code);
    expect(asApiError(there)).toMatchObject({ message: asApiError(error).message });
  });

  it('of a database or the network keeps its code, also where it was wrapped', () => {
    const wrapped = new Error('Failed query', { cause: Object.assign(new Error('gone'), { code: '57P01' }) });
    expect(sqlState(across(wrapped))).toBe('57P01');
    expect(isUnreachable(across(wrapped))).toBe(true);
    expect(isUnreachable(across(Object.assign(new Error('refused'), { code: 'ECONNREFUSED' })))).toBe(true);
  });

  it('that nobody foresaw keeps its words for the log, and says nothing of itself to people', () => {
    const there = across(new RangeError('Invalid array length'));
    expect(there.message).toBe('Invalid array length');
    expect(asApiError(there).code).toBe('internal');
    expect(across('thrown text').message).toBe('thrown text');
  });
});
