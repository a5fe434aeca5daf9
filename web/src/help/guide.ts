import MarkdownIt from 'markdown-it';
import text from '../../../docs/guide.md?raw';

/** A heading of the guide that can be gone to. */
interface Chapter {
  id: string;
  title: string;
  level: number;
}

/** Pictures of the guide, by their path in it. */
const PICTURES = import.meta.glob<string>(
  [
    '../../../docs/screenshots/export.png',
    '../../../docs/screenshots/cross-tab-with-margin.png',
    '../../../docs/screenshots/what-changed.png',
    '../../../docs/screenshots/import.png',
    '../../../docs/screenshots/compose.png',
    '../../../docs/screenshots/pages.png',
    '../../../docs/screenshots/sections.png',
  ],
  { query: '?url', import: 'default', eager: true },
);

/** What a heading is called in an address, as the guide itself links to it: "Why a number is what it is" is `why-a-number-is-what-it-is`. */
const idOf = (title: string): string =>
  title
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}\s-]/gu, '')
    .trim()
    .replaceAll(/\s+/g, '-');

/** The guide as HTML, and its headings. The title of the page stands in the page itself. */
export function guide(): { html: string; chapters: Chapter[] } {
  const markdown = new MarkdownIt({ html: false });
  const chapters: Chapter[] = [];
  const tokens = markdown.parse(text.replace(/^# .*\n/, ''), {});
  tokens.forEach((token, index) => {
    if (token.type !== 'heading_open') return;
    const title = tokens[index + 1].content;
    token.attrSet('id', idOf(title));
    token.attrSet('tabindex', '-1');
    chapters.push({ id: idOf(title), title, level: Number(token.tag.slice(1)) });
  });
  for (const picture of tokens.flatMap(({ children }) => children ?? []).filter(({ type }) => type === 'image')) {
    picture.attrSet('src', PICTURES[`../../../docs/${picture.attrGet('src')}`] ?? '');
    picture.attrSet('loading', 'lazy');
  }
  return { html: markdown.renderer.render(tokens, markdown.options, {}), chapters };
}
