import { describe, expect, it } from 'vitest';
import { guide } from './guide.ts';

describe('the guide', () => {
  const { html, chapters } = guide();

  it('has headings whose addresses are their own', () => {
    expect(chapters.length).toBeGreaterThan(15);
    expect(new Set(chapters.map(({ id }) => id)).size).toBe(chapters.length);
    for (const { id } of chapters) expect(html).toContain(`id="${id}"`);
  });

  it('leads nowhere that is not there', () => {
    const links = [...html.matchAll(/href="#([^"]*)"/g)].map(([, id]) => id);
    expect(links.length).toBeGreaterThan(0);
    expect(links.filter((id) => !chapters.some((chapter) => chapter.id === id))).toEqual([]);
  });

  it('brings every picture that it shows, each with words for those who do not see it', () => {
    const pictures = [...html.matchAll(/<img src="([^"]*)" alt="([^"]*)"/g)];
    expect(pictures).toHaveLength([...html.matchAll(/<img /g)].length);
    expect(pictures.length).toBeGreaterThan(3);
    for (const [, source, words] of pictures) {
      expect(source).toMatch(/\.png/);
      expect(words).not.toBe('');
    }
  });
});
