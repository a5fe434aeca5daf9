import { describe, expect, it } from 'vitest';
import { htmlTable, markdownTable } from './tables-as-text.ts';

describe('a table on the clipboard', () => {
  it('is HTML whose texts are what they are', () => {
    document.body.innerHTML = htmlTable([
      ['Region', 'Net <k>'],
      ['<img src=x onerror=alert(1)>', 1234.5],
      ['=1+1', null],
    ]);
    const texts = [...document.querySelectorAll('tr')].map((row) => [...row.children].map(({ textContent }) => textContent));
    expect(texts).toEqual([
      ['Region', 'Net <k>'],
      ['<img src=x onerror=alert(1)>', '1234.5'],
      ["'=1+1", ''],
    ]);
    expect(document.querySelectorAll('img')).toHaveLength(0);
    expect([...document.querySelectorAll('thead th')]).toHaveLength(2);
  });

  it('is Markdown that stays one row a line, with numbers at the right', () => {
    expect(
      markdownTable([
        ['A | B', 'Net'],
        ['one\ntwo', -1],
        ['a\\b', null],
      ]),
    ).toBe('| A \\| B | Net |\n| --- | ---: |\n| one two | -1 |\n| a\\\\b |  |');
  });
});
