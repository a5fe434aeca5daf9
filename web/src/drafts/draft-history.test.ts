import fc from 'fast-check';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import { historyKeeper } from './draft-history.ts';

/** The browser's store, as far as it is met here; it may be missing, as in a private window. */
const store = vi.hoisted(() => ({ kept: new Map<string, unknown>(), isThere: true }));
vi.mock('idb-keyval', () => ({
  get: (key: string) => (store.isThere ? Promise.resolve(structuredClone(store.kept.get(key))) : Promise.reject(new Error('no store'))),
  set(key: string, value: unknown) {
    if (!store.isThere) return Promise.reject(new Error('no store'));
    store.kept.set(key, structuredClone(value));
    return Promise.resolve();
  },
}));
beforeEach(() => {
  store.kept.clear();
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
    store.kept.set('bold-compass history of report trial', 'something else');
    expect(await keeper().read(1)).toBeNull();
    store.isThere = false;
    await expect(keeper().write(2, { past: [], future: [] })).resolves.toBeUndefined();
    expect(await keeper().read(2)).toBeNull();
  });
});
