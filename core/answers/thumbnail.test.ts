import { describe, expect, it } from 'vitest';
import {
  chartSchema,
  crosstabSchema,
  imageSchema,
  kpiStripSchema,
  listSchema,
  reportSchema,
  textSchema,
  type DataExhibit,
  type Report,
} from '../model/index.ts';
import { conditionsFor, initialReaderScope } from '../prompts/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData } from './columns-data.ts';
import type { AnswerContext } from './context.ts';
import { thumbnailQuestion } from './questions.ts';
import { thumbnailOf } from './thumbnail.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const reportOf = (part: Partial<Report>): Report =>
  reportSchema.parse({ schemaVersion: 1, id: 'small', title: 'Sales of {scope}', dataset: 'worked', exhibits: [], ...part });

/** Draws each exhibit through its own question, as a server does. */
const small = (report: Report) =>
  thumbnailOf(
    report,
    async (exhibit: DataExhibit) => {
      const question = thumbnailQuestion(exhibit.kind)!;
      const asked = conditionsFor(report, initialReaderScope(report), { dataset: workedDataset, days: { first: 0, last: 0 } });
      const answer = await question.answer(context, exhibit, asked, question.thumbnail.request(exhibit));
      return question.thumbnail.draw({ dataset: workedDataset, dataTo: '2026-02-28', locale: 'en-GB' }, exhibit, answer);
    },
    (text) => text.replaceAll('{scope}', '2025').replaceAll('{net}', '12'),
  );

const crosstab = (part: object) =>
  crosstabSchema.parse({
    kind: 'crosstab',
    id: 'table',
    title: 'Net sales',
    side: { fields: ['region', 'country'] },
    top: { fields: ['year'] },
    cells: [{ measure: 'net' }],
    ...part,
  });

describe('a small picture of a report', () => {
  it('shows a cross-tab as it is composed: headings, totals, members in their levels', async () => {
    const report = reportOf({ exhibits: [crosstab({ side: { fields: ['region', 'country'], openLevels: 1 } })] });
    const { title, parts } = await small(report);
    expect(title).toBe('Sales of 2025');
    expect(parts[0].table!.columns).toEqual(['2025', '2026', 'All years']);
    expect(parts[0].table!.lines.map(({ label, depth, strong }) => [label, depth, strong])).toEqual([
      ['Atlantic', 0, true],
      ['France', 1, false],
      ['Nordic', 0, true],
      ['Denmark', 1, false],
      ['Sweden', 1, false],
      ['All regions', 0, true],
    ]);
    // 2 × 100 + 1 × 300 + 4 × 50 of 2025; the totals are those of the worked example.
    expect(parts[0].table!.lines[2].cells[0]).toBe('700');
  });

  it('names measures in the headings where there are several, or on lines of their own', async () => {
    const cells = [{ measure: 'net' }, { measure: 'average_price' }];
    const beside = (await small(reportOf({ exhibits: [crosstab({ cells, top: { fields: [] } })] }))).parts[0].table!;
    expect(beside.columns).toHaveLength(2);
    const below = (await small(reportOf({ exhibits: [crosstab({ cells, top: { fields: [] }, measuresOn: 'side' })] }))).parts[0].table!;
    expect(below.lines).toHaveLength(beside.lines.length * 2);
    expect(below.lines[1].label).toBe(beside.columns[1]);
    expect(below.lines.map(({ cells: [own] }) => own)).toEqual(beside.lines.flatMap((line) => line.cells));
  });

  it('draws charts without figures', async () => {
    const drawn = async (part: object): Promise<unknown> => {
      const chart = chartSchema.parse({
        ...{ kind: 'chart', id: 'drawn', title: 'Drawn', side: { fields: ['region'] }, top: { fields: [] }, cells: [{ measure: 'net' }] },
        ...part,
      });
      const [own] = (await small(reportOf({ exhibits: [chart] }))).parts;
      expect(own).toMatchObject({ title: 'Drawn' });
      expect(own.table).toBeUndefined();
      return own.chart;
    };
    // 1,400 in Atlantic and 1,850 in Nordic, over both years of the worked example.
    expect(await drawn({ chart: { kind: 'bar' } })).toEqual({ shape: 'bars', series: [[0.757, 1]], zero: 0 });
    expect(await drawn({ chart: { kind: 'ring' } })).toEqual({ shape: 'slices', series: [[0.431, 0.569]], zero: 0 });
    // What goes through years shows the last one that is over: 500 and 700 in 2025.
    expect(await drawn({ top: { fields: ['year'] }, chart: { kind: 'column', through: {} } })).toEqual({
      ...{ shape: 'columns', zero: 0 },
      series: [[0.714, 1]],
    });
  });

  it('shows the first records of a list, the figures of a strip, words and pictures', async () => {
    const list = listSchema.parse({
      ...{ kind: 'list', id: 'lines', title: 'Lines', fact: 'sales', groups: [{ field: 'region' }], width: 6 },
      columns: [{ field: 'city' }, { field: 'quantity' }],
      order: [{ field: 'quantity', direction: 'desc' }],
    });
    const against = { kind: 'value', value: 1 };
    const strip = kpiStripSchema.parse({
      ...{ kind: 'kpis', id: 'figures', title: 'Figures' },
      kpis: [{ id: 'net', label: 'Net', measure: 'net', words: 'of one', indicator: { against, by: 'ratio', onCourse: 1, drifting: 0.9 } }],
    });
    const text = textSchema.parse({ kind: 'text', id: 'words', text: 'Net is {net}.' });
    const image = imageSchema.parse({ kind: 'image', id: 'logo', source: `asset:${'a'.repeat(64)}` });
    const { parts } = await small(reportOf({ exhibits: [strip, list, text, image] }));
    expect(parts[0].figures).toEqual([{ label: 'Net', value: '3,250', state: 'on' }]);
    expect(parts[1]).toMatchObject({ width: 6, table: { columns: ['Quantity'] } });
    expect(parts[1].table!.lines[0]).toMatchObject({ label: 'Atlantic', strong: true });
    expect(parts[1].table!.lines.filter(({ strong }) => !strong)).toHaveLength(8);
    expect(parts[2]).toMatchObject({ title: '', text: 'Net is 12.' });
    expect(parts[3]).toMatchObject({ picture: `asset:${'a'.repeat(64)}` });
  });

  it('shows the first page only, under what is chosen from the start, and an empty place for what cannot be calculated', async () => {
    const report = reportOf({
      pages: [
        { id: 'one', title: 'One' },
        { id: 'two', title: 'Two' },
      ],
      prompts: [{ id: 'when', kind: 'members', fields: ['year'], multiple: true, initial: { year: ['2025'] } }],
      exhibits: [
        crosstab({ page: 'one' }),
        crosstab({ id: 'other', page: 'two' }),
        crosstab({ id: 'broken', cells: [{ measure: 'gone' }] }),
      ],
    });
    const { parts } = await small(report);
    expect(parts).toHaveLength(2);
    expect(parts[0].table!.columns).toEqual(['2025']);
    expect(parts[1]).toEqual({ width: 12, title: 'Net sales' });
  });
});
