/** Rows of a table, the heading first. */
type Rows = readonly (readonly unknown[])[];

const words = (value: unknown): string => (value === null || value === undefined ? '' : String(value as string | number | boolean));

const escapedForHtml = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/** A table as HTML, to be pasted into documents and spreadsheets: numbers as numbers, texts as texts that run nowhere. */
export function htmlTable(rows: Rows): string {
  const [heading = [], ...lines] = rows;
  const cell = (tag: 'th' | 'td', value: unknown): string => {
    // What begins like a formula is marked as text for programs that would run it.
    const text = words(value);
    const isFormula = typeof value === 'string' && /^[=+\-@\t\r]/.test(text);
    return `<${tag}>${escapedForHtml(isFormula ? `'${text}` : text)}</${tag}>`;
  };
  const row = (tag: 'th' | 'td', values: readonly unknown[]): string => `<tr>${values.map((value) => cell(tag, value)).join('')}</tr>`;
  return `<table><thead>${row('th', heading)}</thead><tbody>${lines.map((line) => row('td', line)).join('')}</tbody></table>`;
}

/** A table as Markdown (GitHub Flavored Markdown 0.29, tables), to be pasted where that is read. */
export function markdownTable(rows: Rows): string {
  const [heading = [], ...lines] = rows;
  const cell = (value: unknown): string =>
    words(value)
      .replaceAll('\\', '\\\\')
      .replaceAll('|', '\\|')
      .replaceAll(/\s*[\r\n]+\s*/g, ' ');
  const row = (values: readonly unknown[]): string => `| ${values.map(cell).join(' | ')} |`;
  const isNumber = heading.map((_, at) => lines.some((line) => typeof line[at] === 'number'));
  return [row(heading), `| ${isNumber.map((one) => (one ? '---:' : '---')).join(' | ')} |`, ...lines.map(row)].join('\n');
}
