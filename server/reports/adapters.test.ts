import {
  askedIn,
  ColumnsData,
  EXHIBIT_QUESTIONS,
  promptMembers,
  textValues,
  thumbnailOf,
  type AnswerContext,
} from '@bold-compass/core/answers';
import type { CrosstabResponse, ReportSummary, ReportView } from '@bold-compass/core/api';
import { initialScope, isDataExhibit, type DataExhibit, type Dataset, type Report, type Scope } from '@bold-compass/core/model';
import type { Agent } from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { loadStore } from '../data/index.ts';

/** The server and columns in memory, without any server, answer every question about every demo report alike. */

let demo: DemoApp;
let analyst: Agent;
let reports: ReportView[];
const contexts = new Map<string, AnswerContext>();

/** Another report as it is opened: its edition. */
const report = async (id: string): Promise<Report | null> =>
  ((await analyst.get(`/api/reports/${id}`)).body as Partial<ReportView>).report ?? null;

async function contextOf(dataset: Dataset): Promise<AnswerContext> {
  let context = contexts.get(dataset.name);
  if (!context) {
    const client = await demo.connection.pool.connect();
    const store = await loadStore(client, dataset, 'in memory').finally(() => client.release());
    context = { dataset, data: new ColumnsData(dataset, store), tables: new Map(), locale: 'en-GB', report };
    contexts.set(dataset.name, context);
  }
  return context;
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
  crosstab: [true, false].map((hideEmpty) => ({
    side: { ...OPEN, hideEmpty },
    top: { ...OPEN, hideEmpty },
    rows: WINDOW,
    columns: { from: 0, count: 30 },
  })),
  list: [
    { order: [], offset: 0, limit: 200 },
    { order: [], offset: 317, limit: 50 },
  ],
};

/** Cells to explain: the corners and some between of what the cross-tab shows. */
function cellsOf(exhibit: DataExhibit, answer: CrosstabResponse): object[] {
  if (exhibit.kind !== 'crosstab') return [];
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

/** What a prompt with its first choices, and one without, hands to the exhibits. */
function scopesOf({ report }: ReportView): Scope[] {
  return [{}, initialScope(report)];
}

async function compare(view: ReportView, exhibit: DataExhibit, scope: Scope): Promise<number> {
  const name = exhibit.dataset ?? view.report.dataset;
  const context = await contextOf(name === view.dataset.name ? view.dataset : view.datasets[name]);
  let compared = 0;
  const ask = async (path: string, part: object): Promise<unknown> => {
    const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
    const body = { ...part, scope, draft: true };
    const served = await analyst.post(`/api/reports/${view.report.id}/exhibits/${exhibit.id}/${path}`).send(body).expect(200);
    const own = await question.answer(context, exhibit as never, { scope, where: null }, question.request.parse(body));
    expect(withoutTime(served.body)).toEqual(withoutTime(own));
    compared++;
    return served.body;
  };
  for (const part of REQUESTS[exhibit.kind]) {
    const answer = await ask(exhibit.kind, part);
    for (const cell of cellsOf(exhibit, answer as CrosstabResponse)) await ask('explain', cell);
  }
  return compared;
}

describe('answers', () => {
  it('are the same from the server and from columns in memory, for every exhibit of every demo report', { timeout: 120_000 }, async () => {
    let compared = 0;
    for (const view of reports) {
      for (const exhibit of view.report.exhibits) {
        if (!isDataExhibit(exhibit)) continue;
        for (const scope of scopesOf(view)) compared += await compare(view, exhibit, scope);
      }
    }
    expect(compared).toBeGreaterThan(60);
  });

  it('are drawn small alike', { timeout: 60_000 }, async () => {
    for (const view of reports) {
      const asked = { scope: initialScope(view.report), where: null };
      const own = await thumbnailOf(view.report, async (exhibit) => {
        const question = EXHIBIT_QUESTIONS.find(({ kind, thumbnail }) => kind === exhibit.kind && thumbnail)!;
        const dataset = view.datasets[exhibit.dataset ?? ''] ?? view.dataset;
        const context = await contextOf(dataset);
        const answer = await question.answer(context, exhibit, askedIn(dataset, asked), question.thumbnail!.request(exhibit));
        return question.thumbnail!.draw({ dataset, dataTo: view.dataTo, locale: 'en-GB' }, exhibit, answer);
      });
      const { body } = await analyst.get(`/api/reports/${view.report.id}/thumbnail`).expect(200);
      expect(body).toEqual(JSON.parse(JSON.stringify(own)));
      const drawn = own.parts.filter(({ table, figures, text, picture }) => table ?? figures ?? text ?? picture);
      expect(drawn.length).toBeGreaterThan(0);
      expect(drawn.every(({ table }) => table === undefined || table.lines.length > 1)).toBe(true);
    }
  });

  it('offer the same members in every prompt, and give texts the same values', { timeout: 60_000 }, async () => {
    for (const view of reports) {
      const context = await contextOf(view.dataset);
      for (const field of view.report.prompts.flatMap(({ fields }) => fields)) {
        const served = await analyst
          .post(`/api/reports/${view.report.id}/members`)
          .send({ field, scope: {}, draft: true, tree: true })
          .expect(200);
        expect(served.body).toEqual(
          JSON.parse(JSON.stringify(await promptMembers(context, view.report, { scope: {}, where: null }, field, true))),
        );
      }
      const measures = view.dataset.measures.map(({ name }) => name);
      const served = await analyst.post(`/api/reports/${view.report.id}/values`).send({ scope: {}, draft: true, measures }).expect(200);
      expect(served.body).toEqual(await textValues(context, measures, { scope: {}, where: null }));
      expect(Object.keys(served.body as object)).toHaveLength(measures.length);
    }
  });
});
