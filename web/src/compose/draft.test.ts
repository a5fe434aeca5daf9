import type { ReportView } from '@bold-compass/core/api';
import { copiedExhibit } from '@bold-compass/core/exhibits';
import { datasetSchema, reportSchema, textSchema, type Crosstab, type Exhibit, type Report } from '@bold-compass/core/model';
import fc from 'fast-check';
import { applyPatch, type Operation } from 'rfc6902';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import dataset from '../../../demo/documents/dataset.json';
import document from '../../../demo/documents/margins-by-line-and-channel.json';
import { useDraft } from './draft.ts';
import { placeField, removeField, shiftField, swapAxes } from './edges.ts';

/** The server as far as drafts meet it: it keeps a document, and takes changes of it from the revision it has. */
const server = vi.hoisted(() => ({ report: null as unknown, revision: 1, sent: [] as { method: string; characters: number }[], fails: 0 }));
vi.mock('idb-keyval', async () => (await import('../drafts/testing/kept-store.ts')).keptStore);
vi.mock('@tanstack/vue-query', () => ({ useQueryClient: () => ({ removeQueries: () => undefined, setQueryData: () => undefined }) }));
vi.mock('../api/client.ts', async (original) => {
  const client = await original<typeof import('../api/client.ts')>();
  const refusal = (code: string) => new client.ApiProblem({ type: 'about:blank', title: '', status: 409, code, detail: code });
  interface Sent {
    report?: unknown;
    changes?: Operation[];
    revision: number;
  }
  return {
    ...client,
    ask(_schema: unknown, method: string, _path: string, body: Sent) {
      const sent = JSON.parse(JSON.stringify(body)) as Sent;
      server.sent.push({ method, characters: JSON.stringify(sent).length });
      if (sent.revision !== server.revision) return Promise.reject(refusal('stale-revision'));
      if (method === 'PATCH') {
        const changed: unknown = structuredClone(server.report);
        const failures = applyPatch(changed, sent.changes!).filter((one) => one !== null);
        if (failures.length > 0 || server.fails-- > 0) return Promise.reject(refusal('changes-unfit'));
        server.report = reportSchema.parse(changed);
      } else server.report = reportSchema.parse(sent.report);
      return Promise.resolve({ revision: ++server.revision });
    },
  };
});

const initial = reportSchema.parse(document);
const view = { report: initial, dataset: datasetSchema.parse(dataset), datasets: {} };
const start = (): ReturnType<typeof useDraft> => useDraft({ ...view, revision: server.revision } as ReportView);
beforeEach(() => Object.assign(server, { report: structuredClone(initial), revision: 1, sent: [], fails: 0 }));

type Step = (draft: ReturnType<typeof useDraft>) => void;
const onCrosstab =
  (change: (exhibit: Crosstab) => Exhibit): Step =>
  (draft) => {
    const exhibit = draft.report.value.exhibits.find((one): one is Crosstab => one.kind === 'crosstab');
    if (exhibit) draft.change(change(exhibit));
  };
const onReport =
  (change: (report: Report) => Partial<Report>): Step =>
  (draft) =>
    draft.set({ ...draft.report.value, ...change(draft.report.value) });

const field = fc.constantFrom('region', 'country', 'channel', 'year', 'line', 'family');
const edge = fc.constantFrom('side' as const, 'top' as const);
const step: fc.Arbitrary<Step> = fc.oneof(
  fc.tuple(edge, field, fc.nat({ max: 3 })).map(([on, name, at]) => onCrosstab((exhibit) => placeField(exhibit, on, name, at))),
  fc.tuple(edge, field).map(([on, name]) => onCrosstab((exhibit) => removeField(exhibit, on, name))),
  fc.tuple(edge, field).map(([on, name]) => onCrosstab((exhibit) => shiftField(exhibit, on, name, 1))),
  fc.constant(onCrosstab(swapAxes)),
  fc.string({ minLength: 1, maxLength: 12 }).map((title) => onCrosstab((exhibit) => ({ ...exhibit, title }))),
  // Settings that are taken away again are left out of the document.
  fc.option(fc.integer({ min: 120, max: 900 }), { nil: undefined }).map((height) => onCrosstab((exhibit) => ({ ...exhibit, height }))),
  fc.string({ maxLength: 20 }).map((subtitle) => onReport(() => ({ subtitle }))),
  fc.constant(onReport(({ exhibits }) => ({ exhibits: exhibits.slice(1) }))),
  fc.constant(onReport(({ exhibits }) => ({ exhibits: [...exhibits].reverse() }))),
  fc.nat().map((number) =>
    onReport(({ exhibits }) => ({
      exhibits: [...exhibits, textSchema.parse({ kind: 'text', id: `text-${number}-${exhibits.length}`, text: `Words ${number}` })],
    })),
  ),
  fc.constant(
    onReport((report) => ({
      exhibits:
        report.exhibits.length > 0 ? [...report.exhibits, copiedExhibit(report.exhibits[0], report.dataset, report, undefined)] : [],
    })),
  ),
);
const UNDO: Step = (draft) => draft.undo();
const REDO: Step = (draft) => draft.redo();
const walk = fc.array(fc.oneof({ weight: 4, arbitrary: step }, fc.constantFrom(UNDO, REDO)), {
  maxLength: 14,
});
const plain = (report: unknown): unknown => JSON.parse(JSON.stringify(report));

describe('a draft', () => {
  it('is on the server what it is on the page, however it was changed, undone and redone', async () => {
    await fc.assert(
      fc.asyncProperty(walk, async (steps) => {
        Object.assign(server, { report: structuredClone(initial), revision: 1 });
        const draft = start();
        for (const one of steps) {
          one(draft);
          // Some changes are made while an earlier one is still on its way.
          if (draft.report.value.exhibits.length % 2 === 0) await draft.settled();
        }
        await draft.settled();
        expect(draft.status.value).toBe('Draft saved');
        expect(plain(server.report)).toEqual(plain(reportSchema.parse(plain(draft.report.value))));
        const last = draft.report.value;
        while (draft.canUndo.value) draft.undo();
        expect(draft.report.value).toBe(initial);
        await draft.settled();
        expect(plain(server.report)).toEqual(plain(initial));
        // Everything that was undone can be done again, up to what was undone before.
        while (draft.canRedo.value) draft.redo();
        if (!steps.includes(UNDO)) expect(draft.report.value).toBe(last);
        await draft.settled();
      }),
      { numRuns: 60, seed: 21 },
    );
  });

  it('sends what changed, which is little', async () => {
    const draft = start();
    onCrosstab((exhibit) => ({ ...exhibit, title: 'Renamed' }))(draft);
    await draft.settled();
    expect(server.sent).toEqual([{ method: 'PATCH', characters: expect.any(Number) as number }]);
    expect(server.sent[0].characters).toBeLessThan(200);
    expect(JSON.stringify(initial).length).toBeGreaterThan(2_000);
  });

  it('is sent whole where its changes do not fit, and is not lost', async () => {
    server.fails = 1;
    const draft = start();
    onReport(() => ({ subtitle: 'Kept' }))(draft);
    await draft.settled();
    expect(server.sent.map(({ method }) => method)).toEqual(['PATCH', 'PUT']);
    expect(server.report).toMatchObject({ subtitle: 'Kept' });
    expect(draft.status.value).toBe('Draft saved');
    onReport(() => ({ subtitle: 'And on' }))(draft);
    await draft.settled();
    expect(server.report).toMatchObject({ subtitle: 'And on' });
  });
});

describe('the steps of a draft', () => {
  it('say what undoing takes back, and what redoing does again', () => {
    const draft = start();
    expect([draft.lastStep.value, draft.nextStep.value]).toEqual(['', '']);
    draft.set({ ...draft.report.value, title: 'Margins' });
    const renamed = draft.lastStep.value;
    expect(renamed).toContain('is “Margins” now.');
    onCrosstab((exhibit) => ({ ...exhibit, cells: exhibit.cells.slice(1) }))(draft);
    expect(draft.lastStep.value).toMatch(/was removed in the cells\.$/);
    const removed = draft.lastStep.value;
    draft.undo();
    expect([draft.lastStep.value, draft.nextStep.value]).toEqual([renamed, removed]);
    draft.undo();
    expect([draft.lastStep.value, draft.nextStep.value]).toEqual(['', renamed]);
    draft.set({ ...draft.report.value, title: 'Other', subtitle: 'Everything', folder: 'There' });
    expect([draft.lastStep.value, draft.nextStep.value]).toEqual([expect.stringMatching(/is “Other” now\. And 2 more\.$/), '']);
  });
});
