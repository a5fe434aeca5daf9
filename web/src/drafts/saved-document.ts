import { computed, ref, shallowRef } from 'vue';
import { ApiProblem, isPassing } from '../api/client.ts';
import { MOST_STEPS, type HistoryKeeper } from './draft-history.ts';

/**
 * A document that saves itself with every change, and whose changes can be undone. `save` sends it from the revision it
 * started from, which holds the document that was saved last, and returns the new one; a database that is away is tried
 * again. `keeper` brings back the steps of an earlier page.
 */
export function useSavedDocument<Document>(
  initial: Document,
  firstRevision: number,
  save: (document: Document, revision: number, saved: Document) => Promise<number>,
  keeper: HistoryKeeper<Document>,
) {
  const document = shallowRef<Document>(initial);
  /** Revision of the last save; answers about the draft hang on it. */
  const revision = ref(firstRevision);
  /** The document as it was saved at that revision. */
  const saved = shallowRef<Document>(initial);
  const past = shallowRef<Document[]>([]);
  const future = shallowRef<Document[]>([]);
  const status = ref('Draft saved');
  const conflict = ref('');
  /** The revision that someone else saved, where that is why this one was not. */
  const theirs = ref<number>();
  let saving: Promise<void> | null = null;
  void keeper.read(firstRevision).then((kept) => {
    if (!kept) return;
    // Steps that were made while this was read come after it.
    past.value = [...kept.past, ...past.value];
    if (document.value === initial) future.value = kept.future;
  });

  function set(next: Document): void {
    document.value = next;
    saving ??= saveAll().finally(() => (saving = null));
  }

  /** Saves until what is saved is what is shown. */
  async function saveAll(): Promise<void> {
    for (let isSaved = false; !isSaved || saved.value !== document.value;) {
      const current: Document = document.value;
      status.value = 'Saving …';
      try {
        revision.value = await save(current, revision.value, saved.value);
        saved.value = current;
        isSaved = true;
        status.value = 'Draft saved';
        conflict.value = '';
        theirs.value = undefined;
        void keeper.write(revision.value, { past: past.value, future: future.value });
      } catch (error) {
        if (isPassing(error)) {
          status.value = 'Not saved yet: no connection. It is tried again.';
          await new Promise((resolve) => setTimeout(resolve, 1_500));
          continue;
        }
        status.value = 'Not saved';
        theirs.value = error instanceof ApiProblem ? error.revision : undefined;
        conflict.value =
          error instanceof ApiProblem ? error.message : 'The draft could not be saved. Try another change, or reload the page.';
        return;
      }
    }
  }

  return {
    document,
    revision,
    saved,
    status,
    conflict,
    /** Whether what is shown can be saved in the place of what someone else saved. */
    canReplace: computed(() => theirs.value !== undefined),
    /** Saves what is shown in the place of what someone else saved. */
    replaceTheirs(): void {
      if (theirs.value === undefined) return;
      revision.value = theirs.value;
      set(document.value);
    },
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    /** The document as it is after undoing, and after redoing; null where there is no such step. */
    before: computed(() => past.value.at(-1) ?? null),
    after: computed(() => future.value.at(-1) ?? null),
    /** Waits until everything is saved. */
    settled: async (): Promise<void> => void (await saving),
    change(next: Document): void {
      past.value = [...past.value.slice(1 - MOST_STEPS), document.value];
      future.value = [];
      set(next);
    },
    undo(): void {
      const last = past.value.at(-1);
      if (last === undefined) return;
      past.value = past.value.slice(0, -1);
      future.value = [...future.value, document.value];
      set(last);
    },
    redo(): void {
      const next = future.value.at(-1);
      if (next === undefined) return;
      future.value = future.value.slice(0, -1);
      past.value = [...past.value, document.value];
      set(next);
    },
  };
}
