import type { KpiResponse } from '@bold-compass/core/api';
import { crosstabSchema, measureSchema } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { scratchReport, type ScratchReport } from '../../demo/testing/scratch-report.ts';

/** Questions that would take a minute end after their limit, and hold nobody up meanwhile. */

const LONGEST = 8_000;
let demo: DemoApp;
let analyst: Awaited<ReturnType<DemoApp['as']>>;
let scratch: ScratchReport;
beforeAll(async () => {
  demo = await demoApp({ answerLimits: { longest: LONGEST, patience: 60, grace: 300 } });
  analyst = await demo.as('ines-calloway');
  scratch = await scratchReport(analyst, 'Long questions');
});
afterAll(() => demo.close());

const axis = { open: { depth: 9, exceptions: [] }, hideEmpty: true };
const window = { from: 0, count: 200 };
const asked = { draft: true, side: axis, top: axis, rows: window, columns: window };
/** Many windows over many cells: each is a measure that an analyst may well want, and all of them together are too much. */
const measures = Array.from({ length: 12 }, (_, at) =>
  measureSchema.parse({ name: `window_${at}`, label: `Window ${at}`, formula: `rolling(avg(net_sales per customer), ${at + 2} months)` }),
);

async function showLong(id: string): Promise<void> {
  const cells = measures.map(({ name }) => ({ measure: name }));
  const side = { fields: ['region', 'country', 'city'] };
  const exhibit = crosstabSchema.parse({ kind: 'crosstab', id, title: 'Long', side, top: { fields: ['month'] }, cells });
  await scratch.save({ exhibits: [exhibit], measures });
}

describe('a question that takes too long', () => {
  it('is ended after its limit with words that say what to do, while others are answered', async () => {
    await showLong('long');
    const reader = await demo.as('henrike-hollin');
    const kpis = async (): Promise<number> => {
      const started = performance.now();
      const { body } = await reader.post('/api/reports/sales-against-target/exhibits/key-figures/kpis').send({}).expect(200);
      expect((body as KpiResponse)[0].value).toBeGreaterThan(0);
      return performance.now() - started;
    };
    await kpis();
    const started = performance.now();
    let ended = false;
    // More of them than there are threads: all of one person's.
    const long = Array.from({ length: 4 }, () =>
      analyst
        .post(`/api/reports/${scratch.id}/exhibits/long/crosstab`)
        .send(asked)
        .then((answer) => ((ended = true), answer)),
    );
    let slowest = 0;
    let answered = 0;
    while (!ended) {
      slowest = Math.max(slowest, await kpis());
      answered++;
    }
    const [{ status, body }] = await Promise.all(long);
    expect({ status, code: (body as { code: string }).code }).toEqual({ status: 422, code: 'took-too-long' });
    expect((body as { detail: string }).detail).toMatch(/Choose a smaller scope/);
    expect(performance.now() - started).toBeLessThan(LONGEST * 4);
    expect(answered).toBeGreaterThan(2);
    expect(slowest).toBeLessThan(LONGEST);
    await kpis();
  });
});
