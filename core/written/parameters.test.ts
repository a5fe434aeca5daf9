import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bindParameters, parameterNames } from './parameters.ts';

const parameters = [
  { name: 'since', type: 'date', value: '2026-01-01' },
  { name: 'least', type: 'number', value: '5' },
] as const;

describe('parameters of a written query', () => {
  it('become placeholders, each name one number', () => {
    const { text, names } = bindParameters('SELECT * FROM s WHERE d >= :since AND (n > :least OR m > :least)', [...parameters]);
    expect(text).toBe('SELECT * FROM s WHERE d >= $1::date AND (n > $2::numeric OR m > $2::numeric)');
    expect(names).toEqual(['since', 'least']);
  });

  it.each([
    "SELECT ':since'",
    'SELECT ":since" FROM t',
    'SELECT now()::date -- :since',
    'SELECT /* :since */ 1',
    'SELECT $$ :since $$, $tag$ :least $tag$',
    "SELECT E'it\\'s :since'",
    'SELECT a[1:2]',
  ])('are none in %s', (text) => {
    expect(parameterNames(text)).toEqual([]);
    expect(bindParameters(text, [...parameters]).text).toBe(text);
  });

  it('tell where a place of the bound text was written', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('SELECT ', 'x + ', ':since ', ':least ', "'a:b' "), { maxLength: 12 }), (parts) => {
        const written = `${parts.join('')}@`;
        const bound = bindParameters(written, [...parameters]);
        expect(bound.written(bound.text.indexOf('@'))).toBe(written.indexOf('@'));
      }),
    );
  });
});
