import type { ImportView } from '@bold-compass/core/api';
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, type EffectScope } from 'vue';
import { useImport } from './use-import.ts';

/** The server as far as a file on its way in meets it: what it says next, and what it was asked. */
const server = vi.hoisted(() => ({
  views: [] as unknown[],
  asked: [] as { method: string; path: string; body: unknown }[],
  refusal: null as string | null,
}));
vi.mock('../api/client.ts', async (original) => {
  const client = await original<typeof import('../api/client.ts')>();
  return {
    ...client,
    ask(_schema: unknown, method: string, path: string, body: unknown) {
      server.asked.push({ method, path, body });
      if (server.refusal !== null) {
        const problem = { type: 'about:blank', title: '', status: 422, code: 'import-refused', detail: server.refusal };
        return Promise.reject(new client.ApiProblem(problem));
      }
      return Promise.resolve(server.views.length > 1 ? server.views.shift() : server.views[0]);
    },
  };
});

const column = (name: string) => ({ name, label: name, type: 'text', include: true });
/** What the server knows of a file, as far as choosing goes. */
const view = (part: object = {}): ImportView =>
  ({
    work: null,
    analysis: null,
    reading: null,
    columns: ['city', 'net'].map(column),
    follows: null,
    duplicates: null,
    ...part,
  }) as unknown as ImportView;

let scope: EffectScope;
async function open(id: string): Promise<ReturnType<typeof useImport>> {
  const own = scope.run(() => useImport(id))!;
  await flushPromises();
  return own;
}
beforeEach(() => {
  vi.useFakeTimers();
  scope = effectScope();
  Object.assign(server, { views: [view()], asked: [], refusal: null });
});
afterEach(() => {
  scope.stop();
  vi.useRealTimers();
  sessionStorage.clear();
});
const names = ({ chosen }: ReturnType<typeof useImport>): string[] => chosen.value.columns.map(({ name }) => name);

describe('a file on its way in', () => {
  it('is asked about until nothing goes on any more, and no longer once its page is left', async () => {
    server.views = [view({ work: { step: 'reading' }, columns: [] }), view({ work: { step: 'reading' }, columns: [] }), view()];
    const own = await open('a');
    expect(names(own)).toEqual([]);
    await vi.advanceTimersByTimeAsync(250);
    await vi.advanceTimersByTimeAsync(250);
    expect(server.asked).toHaveLength(3);
    expect(names(own)).toEqual(['city', 'net']);
    await vi.advanceTimersByTimeAsync(2_000);
    expect(server.asked).toHaveLength(3);
    server.views = [view({ work: { step: 'checking' } })];
    await own.refresh();
    scope.stop();
    await vi.advanceTimersByTimeAsync(2_000);
    expect(server.asked).toHaveLength(4);
  });

  it('keeps what was chosen over a reload, and begins anew where the columns are others', async () => {
    const first = await open('b');
    first.change({ columns: first.chosen.value.columns.map((one, index) => (index === 0 ? { ...one, name: 'town' } : one)), key: [0] });
    await flushPromises();
    const again = await open('b');
    expect(names(again)).toEqual(['town', 'net']);
    expect(again.chosen.value.key).toEqual([0]);
    server.views = [view({ columns: ['city', 'net', 'day'].map(column) })];
    await again.refresh();
    expect(names(again)).toEqual(['city', 'net', 'day']);
    expect(again.chosen.value.key).toEqual([]);
  });

  it('keeps its rows in view while something goes on, since they are not sent then', async () => {
    const analysis = { columns: [], rows: [] };
    server.views = [view({ analysis, columns: [] })];
    const own = await open('c');
    server.views = [view({ work: { step: 'staging' }, columns: [] })];
    await own.refresh();
    expect(own.view.value).toMatchObject({ work: { step: 'staging' }, analysis });
  });

  it('loses nothing where the server refuses, and says why', async () => {
    const own = await open('d');
    own.change({ key: [1] });
    server.refusal = 'A column has no name. Name it, or leave it out.';
    await own.stage({ kind: 'new' } as never);
    expect(own.message.value).toBe('A column has no name. Name it, or leave it out.');
    expect(own.chosen.value.key).toEqual([1]);
    expect(names(own)).toEqual(['city', 'net']);
    server.refusal = null;
    await own.cancel();
    expect(own.message.value).toBe('');
    expect(server.asked.at(-1)).toMatchObject({ method: 'POST', path: '/imports/d/cancel' });
  });

  it('asks for rows of one key only when the key was chosen, a moment later', async () => {
    const own = await open('e');
    own.change({ key: [0] });
    own.change({ key: [0, 1] });
    await vi.advanceTimersByTimeAsync(299);
    expect(server.asked).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(10);
    expect(server.asked.slice(1)).toEqual([{ method: 'POST', path: '/imports/e/duplicates', body: { key: [0, 1] } }]);
  });

  it('takes over what the first file of a source was read by, where it follows one', async () => {
    const own = await open('f');
    server.views = [view({ follows: { source: 'sales', key: [1], choices: { duplicate: 'skip' } }, columns: ['town', 'net'].map(column) })];
    await own.follow('sales');
    expect(server.asked.at(-1)).toMatchObject({ method: 'PUT', path: '/imports/f/follow', body: { source: 'sales' } });
    expect(own.chosen.value).toMatchObject({ key: [1], choices: { duplicate: 'skip' } });
    expect(names(own)).toEqual(['town', 'net']);
    const asked = server.asked.length;
    await own.follow('sales');
    expect(server.asked).toHaveLength(asked);
  });
});
