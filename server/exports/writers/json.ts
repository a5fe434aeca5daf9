import type { ExportDocument, ExportPart, ExportTable } from '@bold-compass/core/exports';
import { counted, type ExportWriter } from './writer.ts';

function tableOf({ caption, unit, plain }: ExportTable): object {
  const [heading, ...rows] = plain();
  return { ...(caption === '' ? {} : { caption }), unit, columns: heading, rows };
}

function partOf(part: ExportPart): object[] {
  if (part.kind === 'text') return [{ kind: 'text', text: part.text }];
  if (part.kind === 'picture' || part.kind === 'divider') return [];
  const { id, title, section, number, note } = part;
  const head = { id, title, ...(section === '' ? {} : { section }), ...(number > 0 ? { number } : {}), ...(note === '' ? {} : { note }) };
  if (part.kind === 'figures')
    return [
      {
        kind: 'figures',
        ...head,
        figures: part.figures.map(({ label, value, text, state, words }) => ({ label, value, text, state, words })),
      },
    ];
  if (part.kind === 'chart') return [{ kind: 'chart', ...head, chart: part.shown.figure.kind, words: part.words, ...tableOf(part.table) }];
  return [
    { kind: 'table', ...head, ...(part.sentences.length > 0 ? { sentences: part.sentences } : {}), tables: part.tables.map(tableOf) },
  ];
}

/** All that is shown as JSON: figures in the unit that their column names, with the digits that are shown. */
export const jsonWriter: ExportWriter = ({ pages, ...head }: ExportDocument) => {
  const exhibits = pages.map(({ title, parts }) => ({ ...(title === '' ? {} : { title }), exhibits: parts.flatMap(partOf) }));
  const text = `${JSON.stringify({ schemaVersion: 1, ...head, pages: exhibits }, null, 1)}\n`;
  const count = exhibits.reduce((sum, page) => sum + page.exhibits.length, 0);
  return Promise.resolve({ bytes: new TextEncoder().encode(text), contents: counted(count, 'exhibit', 'exhibits') });
};
