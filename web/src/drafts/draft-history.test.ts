import fc from 'fast-check';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import { ownKey } from '../shell/own-storage.ts';
import { historyKeeper, MOST_STEPS } from './draft-history.ts';
import { store } from './testing/kept-store.ts';

vi.mock('idb-keyval', async () => (await import('./testing/kept-store.ts')).keptStore);
beforeEach(() => {
  store.kept.clear();
  store.written = [];
  store.isThere = true;
});

const documentSchema = z.object({ title: z.string(), note: z.string() });
type Document = z.infer<typeof documentSchema>;
const documents = fc.array(fc.record({ title: fc.string(), note: fc.string() }), { maxLength: 8 });
const keeper = (name = 'report trial') => historyKeeper<Document>(name, documentSchema);

describe('the history of a draft', () => {
  it('is there again for the revision that it was kept with, each step the same', async () => {
    await fc.assert(
      fc.asyncProperty(documents, documents, fc.nat(), async (past, future, revision) => {
        await keeper().write(revision, { past, future });
        expect(await keeper().read(revision)).toEqual({ past, future });
        // Somebody else went on: their draft is not what these steps belong to.
        expect(await keeper().read(revision + 1)).toBeNull();
        expect(await keeper('report other').read(revision)).toBeNull();
      }),
    );
  });

  it('keeps the newest steps where there is no room for all', async () => {
    const past = Array.from({ length: 5 }, (_, index) => ({ title: String(index), note: 'x'.repeat(6_000_000) }));
    await keeper().write(1, { past, future: past });
    const kept = (await keeper().read(1))!;
    expect(kept.past.map(({ title }) => title)).toEqual(['2', '3', '4']);
    // Steps that were undone have a quarter of the room: not one of these fits.
    expect(kept.future).toEqual([]);
  });

  it('is none where what is kept is no document any more, and where there is no store', async () => {
    await keeper().write(1, { past: [{ title: 'One', note: '' }], future: [] });
    const stricter = historyKeeper(`report trial`, documentSchema.extend({ pages: z.array(z.string()) }));
    expect(await stricter.read(1)).toBeNull();
    store.kept.set(ownKey('history of report trial'), 'something else');
    expect(await keeper().read(1)).toBeNull();
    store.isThere = false;
    await expect(keeper().write(2, { past: [], future: [] })).resolves.toBeUndefined();
    expect(await keeper().read(2)).toBeNull();
  });

  it('writes each step once, however many there are, and forgets those that nothing leads to', async () => {
    const own = keeper();
    const step = (index: number): Document => ({ title: String(index), note: 'x'.repeat(1_000) });
    const all = Array.from({ length: 30 }, (_, index) => step(index));
    for (let made = 1; made <= 30; made++) await own.write(made, { past: all.slice(0, made), future: [] });
    // The index each time, and each document once.
    expect(store.written).toHaveLength(60);
    expect(store.kept.size).toBe(31);
    await own.write(31, { past: all.slice(0, 3), future: [] });
    expect(store.kept.size).toBe(4);
    // Another page that goes on from there writes none of them again.
    const second = keeper();
    const read = (await second.read(31))!;
    store.written = [];
    await second.write(32, { past: [...read.past, step(99)], future: [] });
    expect(store.written).toHaveLength(2);
    // And one that begins anew leaves none of them behind.
    await keeper().write(40, { past: [step(1)], future: [] });
    expect(store.kept.size).toBe(2);
  });

  it('is bounded in steps', async () => {
    const past = Array.from({ length: MOST_STEPS + 20 }, (_, index) => ({ title: String(index), note: '' }));
    await keeper().write(1, { past, future: [] });
    expect((await keeper().read(1))!.past.map(({ title }) => title)).toEqual(past.slice(-MOST_STEPS).map(({ title }) => title));
  });
});
