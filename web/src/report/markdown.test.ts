import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renderMarkdown } from './markdown.ts';

/** The text between tags, as a browser reads it. */
const wordsOf = (html: string): string => {
  const box = document.createElement('div');
  box.innerHTML = html;
  return box.textContent ?? '';
};
const withValue = (text: string, value: string): string =>
  renderMarkdown(text, (whole, written) => whole.replace('{value}', () => written(value)));

describe('values in texts', () => {
  it.each([
    '[Sign in](https://elsewhere.example/)',
    'https://elsewhere.example/',
    'www.elsewhere.example',
    'someone@elsewhere.example',
    '<https://elsewhere.example>',
    '![](https://elsewhere.example/pixel.png)',
    '# Heading',
    '1. one',
    '> quoted',
    '| a | b |\n|---|---|\n| 1 | 2 |',
    '    code',
    '`code`',
    '*strong* _this_ ~~gone~~',
    '<img src=x onerror=alert(1)>',
    '&lt;b&gt; &#x41;',
    '[a]: https://elsewhere.example',
    'back\\slash',
  ])('are words, whatever they look like: %s', (value) => {
    const html = withValue('Shown: {value}', value);
    expect(html.replaceAll(/<\/?p>/g, '')).not.toMatch(/<[a-z]/i);
    expect(wordsOf(html).trim()).toBe(`Shown: ${value.replaceAll(/\s+/g, ' ').trim()}`);
  });

  it('never make markup, alone on a line or within one', () => {
    const signs = fc.string({ unit: fc.constantFrom(...'[]()<>!*_`#|-+.:/\\&~"\'\n aA1@=', 'https://', 'www.', '.com'), maxLength: 40 });
    fc.assert(
      fc.property(signs, fc.constantFrom('{value}', 'a {value} b', '**{value}**', '- {value}'), (value, text) => {
        const plain = renderMarkdown(text, (whole) => whole.replace('{value}', 'x')).replaceAll(/[^<>/a-z]/g, '');
        const tags = (html: string): string[] => html.match(/<\/?[a-z]+/g) ?? [];
        const html = withValue(text, value || 'x');
        if (value.trim() === '') return;
        expect(tags(html)).toEqual(tags(plain));
      }),
      { seed: 9, numRuns: 500 },
    );
  });
});

describe('links of the text itself', () => {
  it('open beside the application where they lead out of it', () => {
    const html = renderMarkdown('[out](https://elsewhere.example) and [in](/reports/a)', (text) => text);
    expect(html).toContain('<a href="https://elsewhere.example" target="_blank" rel="noopener noreferrer nofollow">');
    expect(html).toContain('<a href="/reports/a">');
  });
});
