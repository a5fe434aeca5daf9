import { EXPORT_FORMATS, exportFormat, type ExportFormatName } from '@bold-compass/core/exports';
import { pageSetupSchema } from '@bold-compass/core/model';
import { expect, it } from 'vitest';
import { documentOf } from './document.ts';
import type { GatheredReport } from './gathered.ts';
import { EXPORT_WRITERS } from './writers/index.ts';

/** A format that nobody has heard of, added by the records that DEVELOPERS.md lists and nothing else: titles, line by line. */
it('a report is written in it', async () => {
  const titles = 'titles' as ExportFormatName;
  Object.assign(EXPORT_FORMATS, {
    [titles]: {
      ...{ label: 'Titles', note: 'What there is', extension: 'txt', mediaType: 'text/plain' },
      ...{ carries: 'report', mostCells: 10, isPaged: false },
    },
  });
  Object.assign(EXPORT_WRITERS, {
    [titles]: ({ title, pages }: ReturnType<typeof documentOf>) => {
      const words = [title, ...pages.flatMap(({ parts }) => parts.map(({ kind }) => kind))];
      return Promise.resolve({ bytes: new TextEncoder().encode(words.join('\n')), contents: `${words.length} lines` });
    },
  });
  const gathered: GatheredReport = {
    ...{ title: 'Sales', subtitle: '', scope: '', dataAsOf: '31 October 2026', edition: 'Draft', madeFor: 'Ann', access: '' },
    ...{ madeAt: '2026-11-03T08:00:00Z', note: '', measures: [], pictures: {}, setup: pageSetupSchema.parse({}) },
    pages: [
      {
        title: '',
        parts: [
          { kind: 'plain', exhibit: { kind: 'text', id: 'words', width: 12, text: 'Words' } },
          { kind: 'failed', id: 'failed', width: 6, title: 'Broken', problem: 'It is gone.' },
        ],
      },
    ],
  };
  const options = { pictures: {}, progress: () => undefined } as const;
  const { bytes, contents } = await EXPORT_WRITERS[titles](documentOf(gathered), options);
  expect(new TextDecoder().decode(bytes)).toBe('Sales\ntext\ntext');
  expect(contents).toBe('3 lines');
  expect(exportFormat(titles).extension).toBe('txt');
});
