import {
  ColumnsData,
  dataDays,
  EXHIBIT_QUESTIONS,
  openExhibit,
  promptMembers,
  textValues,
  thumbnailOf,
  thumbnailQuestion,
  type AnswerContext,
} from '@bold-compass/core/answers';
import type { CrosstabResponse, ReportSummary, ReportView } from '@bold-compass/core/api';
import { pathKey } from '@bold-compass/core/crosstab';
import type { Store } from '@bold-compass/core/engine';
import { filledText, measuresInTexts } from '@bold-compass/core/exhibits';
import { plainMemberLabel } from '@bold-compass/core/format';
import {
  isCellExhibit,
  isDataExhibit,
  withReportMeasures,
  type DataExhibit,
  type Dataset,
  type ReaderScope,
  type Report,
} from '@bold-compass/core/model';
import { conditionsFor, initialReaderScope, initialScope, promptValues } from '@bold-compass/core/prompts';
import type { Agent } from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { loadStore } from '../data/index.ts';

/** The server and columns in memory, without any server, answer every question about every demo report alike. */

let demo: DemoApp;
let analyst: Agent;
let reports: ReportView[];
const stores = new Map<string, Store>();

/** Another report as it is opened: its edition. */
const report = async (id: string): Promise<Report | null> =>
  ((await analyst.get(`/api/reports/${id}`)).body as Partial<ReportView>).report ?? null;

/** What a dataset is answered from without a server; its records are loaded once. */
async function contextOf(dataset: Dataset): Promise<AnswerContext> {
  let store = stores.get(dataset.name);
  if (!store) {
    const client = await demo.connection.pool.connect();
    store = await loadStore(client, dataset, 'in memory').finally(() => client.release());
    stores.set(dataset.name, store);
  }
  return { dataset, data: new ColumnsData(dataset, store), tables: new Map(), locale: 'en-GB', report };
}

/** A report's own dataset as its exhibits are answered from it. */
const datasetUnder = (view: ReportView, chosen: ReaderScope): Dataset =>
  withReportMeasures(view.dataset, view.report.measures, promptValues(view.report, chosen));

/** An exhibit as a reader chose to see it, and what it answers from. */
async function opened(view: ReportView, exhibit: DataExhibit, chosen: ReaderScope) {
  const own = datasetUnder(view, chosen);
  const name = exhibit.dataset ?? view.report.dataset;
  const other = name === view.dataset.name ? null : view.datasets[name];
  const context = await contextOf(other ?? own);
  const days = dataDays((await contextOf(own)).data);
  return { context, ...openExhibit(view.report, exhibit, chosen, { dataset: own, days }, other) };
}

/** What fills values into the texts of a report, as it is first seen. */
async function filling(view: ReportView): Promise<(text: string) => string> {
  const asked = initialReaderScope(view.report);
  const context = await contextOf(datasetUnder(view, asked));
  const { dataset } = context;
  const days = dataDays(context.data);
  const figures = await textValues(context, measuresInTexts(dataset, view.report), conditionsFor(view.report, asked, { dataset, days }));
  const wording = { dataset, label: plainMemberLabel(dataset, 'en-GB'), locale: 'en-GB', days };
  const given = { report: view.report, asked, wording, dataTo: view.dataTo, edition: view.edition };
  return (text) => filledText(text, { ...given, figure: (measure) => figures[measure].value });
}

beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  const { body } = await analyst.get('/api/reports').expect(200);
  reports = await Promise.all(
    (body as ReportSummary[]).map(async ({ id }) => (await analyst.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView),
  );
});
afterAll(() => demo.close());

const OPEN = { open: { depth: 2, exceptions: [] }, order: null };
const WINDOW = { from: 0, count: 400 };

/** Requests of each kind of question, as a reader makes them who opens everything. */
const REQUESTS: Record<string, object[]> = {
  kpis: [{}],
  variance: [{}],
  crosstab: [true, false].map((hideEmpty) => ({
    side: { ...OPEN, hideEmpty },
    top: { ...OPEN, hideEmpty },
    rows: WINDOW,
    columns: { from: 0, count: 30 },
  })),
  chart: [
    { side: { ...OPEN, hideEmpty: true }, top: { ...OPEN, hideEmpty: true } },
    { side: { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: false }, top: { ...OPEN, hideEmpty: true } },
  ],
  list: [
    { order: [], offset: 0, limit: 200 },
    { order: [], offset: 317, limit: 50 },
  ],
};

/** Cells to explain: the corners and some between of what the cross-tab shows. */
function cellsOf(exhibit: DataExhibit, answer: CrosstabResponse): object[] {
  if (!isCellExhibit(exhibit)) return [];
  const places = (items: CrosstabResponse['rows']['items']) => items.filter(({ bare, summary }) => !bare && !summary);
  const [rows, columns] = [places(answer.rows.items), places(answer.columns.items)];
  return exhibit.cells.flatMap(({ measure }, index) =>
    [rows[0], rows[Math.floor(rows.length / 2)], rows.at(-1)!].map((row) => ({
      ...{ side: row.path, measure },
      top: columns[(index * 5) % columns.length].path,
    })),
  );
}

const withoutTime = (answer: unknown): unknown =>
  JSON.parse(JSON.stringify(answer, (key, value: unknown) => (key === 'milliseconds' ? 0 : value)));

/** What prompts with their first choices, and without any, hand to the exhibits; and with some of their other choices. */
function chosenIn({ report: { prompts } }: ReportView): ReaderScope[] {
  const others: Record<string, string[]> = {
    ...{ period: ['last', '2', 'quarter'], branches: ['but', pathKey(['Nordic']), pathKey(['Atlantic', 'Ireland'])] },
    ...{ dimension: ['Territory'], number: ['0.11'], range: ['50', '900'] },
  };
  const choices = Object.fromEntries(prompts.flatMap(({ id, kind }) => (kind in others ? [[id, others[kind]]] : [])));
  const plain = { scope: initialScope({ prompts }), choices: {}, where: null };
  return [{ ...plain, scope: {} }, plain, ...(Object.keys(choices).length > 0 ? [{ ...plain, choices }] : [])];
}

async function compare(view: ReportView, exhibit: DataExhibit, chosen: ReaderScope): Promise<number> {
  const { context, exhibit: shown, asked } = await opened(view, exhibit, chosen);
  let compared = 0;
  const ask = async (path: string, part: object): Promise<unknown> => {
    const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
    const body = { ...part, ...chosen, draft: true };
    // The server answers in threads of its own meanwhile.
    const [served, own] = await Promise.all([
      analyst.post(`/api/reports/${view.report.id}/exhibits/${exhibit.id}/${path}`).send(body).expect(200),
      question.answer(context, shown as never, asked, question.request.parse(body)),
    ]);
    expect(withoutTime(served.body)).toEqual(withoutTime(own));
    compared++;
    return served.body;
  };
  for (const [at, part] of REQUESTS[exhibit.kind].entries()) {
    const answer = await ask(exhibit.kind, part);
    const cells = cellsOf(shown, answer as CrosstabResponse);
    // Charts are explained as cross-tabs are, and these as before when they hide their empty rows: one figure of each is enough.
    for (const cell of exhibit.kind === 'chart' || at > 0 ? cells.slice(0, 1) : cells) await ask('explain', cell);
    if (cells.length > 0) await ask('records', { ...cells[0], order: [], offset: 0, limit: 20 });
  }
  return compared;
}

describe('answers', () => {
  it('are the same from the server and from columns in memory, for every exhibit of every demo report', { timeout: 600_000 }, async () => {
    let compared = 0;
    for (const view of reports) {
      for (const exhibit of view.report.exhibits) {
        if (!isDataExhibit(exhibit)) continue;
        for (const chosen of chosenIn(view)) compared += await compare(view, exhibit, chosen);
      }
    }
    expect(compared).toBeGreaterThan(60);
  });

  it('are drawn small alike', { timeout: 60_000 }, async () => {
    for (const view of reports) {
      const own = await thumbnailOf(
        view.report,
        async (exhibit) => {
          const question = thumbnailQuestion(exhibit.kind)!;
          const { context, exhibit: shown, asked } = await opened(view, exhibit, initialReaderScope(view.report));
          const answer = await question.answer(context, shown, asked, question.thumbnail.request(shown));
          return question.thumbnail.draw({ dataset: context.dataset, dataTo: view.dataTo, locale: 'en-GB' }, shown, answer);
        },
        await filling(view),
      );
      const { body } = await analyst.get(`/api/reports/${view.report.id}/thumbnail`).expect(200);
      expect(body).toEqual(JSON.parse(JSON.stringify(own)));
      const drawn = own.parts.filter(({ table, chart, figures, text, picture }) => table ?? chart ?? figures ?? text ?? picture);
      expect(drawn.length).toBeGreaterThan(0);
      expect(drawn.every(({ table }) => table === undefined || table.lines.length > 1)).toBe(true);
      expect(drawn.every(({ chart }) => chart === undefined || chart.series.flat().some((value) => value !== null))).toBe(true);
    }
  });

  it('offer the same members in every prompt, and give texts the same values', { timeout: 60_000 }, async () => {
    for (const view of reports) {
      const nothing = { scope: {}, choices: {}, where: null };
      const context = await contextOf(datasetUnder(view, nothing));
      for (const field of view.report.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : []))) {
        const served = await analyst
          .post(`/api/reports/${view.report.id}/members`)
          .send({ field, scope: {}, draft: true, tree: true })
          .expect(200);
        expect(served.body).toEqual(JSON.parse(JSON.stringify(await promptMembers(context, view.report, nothing, { field, tree: true }))));
      }
      const measures = view.dataset.measures.map(({ name }) => name);
      const served = await analyst.post(`/api/reports/${view.report.id}/values`).send({ scope: {}, draft: true, measures }).expect(200);
      const under = conditionsFor(view.report, nothing, { dataset: context.dataset, days: dataDays(context.data) });
      expect(served.body).toEqual(await textValues(context, measures, under));
      expect(Object.keys(served.body as object)).toHaveLength(measures.length);
    }
  });
});
