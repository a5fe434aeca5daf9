import { beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import { z } from 'zod';
import { ApiProblem } from '../api/client.ts';
import { historyKeeper, type HistoryKeeper } from './draft-history.ts';
import { useSavedDocument } from './saved-document.ts';
import { store } from './testing/kept-store.ts';

vi.mock('idb-keyval', async () => (await import('./testing/kept-store.ts')).keptStore);

interface Note {
  text: string;
}
const schema = z.object({ text: z.string() });
const note = (text: string): Note => ({ text });
const none: HistoryKeeper<Note> = { read: () => Promise.resolve(null), write: () => Promise.resolve() };

const refusal = (code: string): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: '', status: 409, code, detail: 'Someone else.' });

/** A server that keeps one note, and refuses what started from an older revision. */
function server() {
  const kept = { text: 'a', revision: 1, saves: [] as string[] };
  return {
    kept,
    save(document: Note, revision: number): Promise<number> {
      if (revision !== kept.revision) return Promise.reject(refusal('stale-revision'));
      kept.text = document.text;
      kept.saves.push(document.text);
      return Promise.resolve(++kept.revision);
    },
  };
}

describe('a document that saves itself', () => {
  beforeEach(() => store.kept.clear());

  it('saves what is shown, and leaves out what was already replaced while a save was on its way', async () => {
    const { kept, save } = server();
    const draft = useSavedDocument(note('a'), 1, save, none);
    for (const text of ['b', 'c', 'd']) draft.change(note(text));
    expect(draft.status.value).toBe('Saving …');
    await draft.settled();
    expect(kept).toMatchObject({ text: 'd', saves: ['b', 'd'] });
    expect([draft.status.value, draft.revision.value]).toEqual(['Draft saved', 3]);
  });

  it('goes back and forth over every change, and a new change ends what could be redone', async () => {
    const { kept, save } = server();
    const draft = useSavedDocument(note('a'), 1, save, none);
    for (const text of ['b', 'c']) draft.change(note(text));
    draft.undo();
    draft.undo();
    draft.undo();
    expect([draft.document.value.text, draft.canUndo.value, draft.canRedo.value]).toEqual(['a', false, true]);
    draft.redo();
    expect(draft.document.value.text).toBe('b');
    draft.change(note('e'));
    expect(draft.canRedo.value).toBe(false);
    draft.undo();
    expect(draft.document.value.text).toBe('b');
    await draft.settled();
    expect(kept.text).toBe('b');
  });

  it('tells of another one who saved in between, and keeps what is shown', async () => {
    const { kept, save } = server();
    const draft = useSavedDocument(note('a'), 1, save, none);
    kept.revision = 7;
    draft.change(note('mine'));
    await draft.settled();
    expect(draft).toMatchObject({ status: { value: 'Not saved' }, conflict: { value: 'Someone else.' } });
    expect([draft.document.value.text, kept.text]).toEqual(['mine', 'a']);
  });

  it('tries again while there is no connection', async () => {
    vi.useFakeTimers();
    const { kept, save } = server();
    let isAway = true;
    const draft = useSavedDocument(
      note('a'),
      1,
      (document, revision) => (isAway ? Promise.reject(refusal('unreachable')) : save(document, revision)),
      none,
    );
    draft.change(note('b'));
    await vi.advanceTimersByTimeAsync(100);
    expect(draft.status.value).toBe('Not saved yet: no connection. It is tried again.');
    isAway = false;
    await vi.advanceTimersByTimeAsync(2_000);
    expect([draft.status.value, kept.text]).toEqual(['Draft saved', 'b']);
    vi.useRealTimers();
  });

  it('can still be undone after the page was closed, unless the draft went on elsewhere', async () => {
    const { kept, save } = server();
    const first = useSavedDocument(note('a'), 1, save, historyKeeper('note', schema));
    for (const text of ['b', 'c', 'd']) first.change(note(text));
    first.undo();
    await first.settled();
    await nextTick();

    const second = useSavedDocument(note(kept.text), kept.revision, save, historyKeeper('note', schema));
    await vi.waitFor(() => expect(second.canUndo.value && second.canRedo.value).toBe(true));
    second.redo();
    expect(second.document.value.text).toBe('d');
    for (const text of ['c', 'b', 'a']) {
      second.undo();
      expect(second.document.value.text).toBe(text);
    }
    expect(second.canUndo.value).toBe(false);
    await second.settled();

    const elsewhere = useSavedDocument(note('x'), kept.revision + 1, save, historyKeeper('note', schema));
    await nextTick();
    await nextTick();
    expect([elsewhere.canUndo.value, elsewhere.canRedo.value]).toEqual([false, false]);
  });

  it('keeps the newest steps where there is not room for all, and none that no longer fit', async () => {
    const keeper = historyKeeper('large', schema);
    const large = Array.from({ length: 5 }, (_, index) => note(`${index}${'x'.repeat(6_000_000)}`));
    await keeper.write(3, { past: large, future: [] });
    const read = await keeper.read(3);
    expect(read?.past.map(({ text }) => text[0])).toEqual(['2', '3', '4']);
    expect(await keeper.read(4)).toBeNull();
    const step = [...store.kept].find(([, value]) => typeof value === 'string')![0];
    store.kept.set(step, '{"words":1}');
    expect(await keeper.read(3)).toBeNull();
  });
});
