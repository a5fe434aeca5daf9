import { writtenInMarkdown } from '@bold-compass/core/exhibits';
import MarkdownIt from 'markdown-it';

// Markup in the text itself stays text.
const markdown = new MarkdownIt({ html: false, linkify: true, typographer: true });

const renderLink = markdown.renderer.rules.link_open;
/** What leads out of the application opens beside it, and is not told where it was opened from. */
markdown.renderer.rules.link_open = (tokens, index, options, env, self) => {
  const token = tokens[index];
  if (/^[a-z][a-z0-9+.-]*:|^\/\//i.test(token.attrGet('href') ?? '')) {
    token.attrSet('target', '_blank');
    token.attrSet('rel', 'noopener noreferrer nofollow');
  }
  return renderLink?.(tokens, index, options, env, self) ?? self.renderToken(tokens, index, options);
};

/** A text in Markdown with values in it, as HTML. Values are words, whatever they look like. */
export const renderMarkdown = (text: string, fill: (text: string, written: (value: string) => string) => string): string =>
  markdown.render(fill(text, writtenInMarkdown));
