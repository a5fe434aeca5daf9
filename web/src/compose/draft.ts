import { savedSchema, type ReportView } from '@bold-compass/core/api';
import type { Exhibit, Report } from '@bold-compass/core/model';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, ref, shallowRef } from 'vue';
import { ApiProblem, ask, isPassing } from '../api/client.ts';

/** The draft of a report: every change saves by itself, and can be undone. */
export function useDraft(loaded: ReportView) {
  const queries = useQueryClient();
  const report = shallowRef<Report>(loaded.report);
  /** Revision of the last save; answers about the draft hang on it. */
  const revision = ref(loaded.revision);
  const past = shallowRef<Report[]>([]);
  const future = shallowRef<Report[]>([]);
  const status = ref('Draft saved');
  const conflict = ref('');
  let saving: Promise<void> | null = null;

  function set(next: Report): void {
    report.value = next;
    saving ??= save().finally(() => (saving = null));
  }

  /** Saves until what is saved is what is shown; a database that is away is tried again. */
  async function save(): Promise<void> {
    for (let saved: Report | null = null; saved !== report.value;) {
      const document: Report = report.value;
      status.value = 'Saving …';
      try {
        revision.value = (
          await ask(savedSchema, 'PUT', `/reports/${encodeURIComponent(document.id)}`, { report: document, revision: revision.value })
        ).revision;
        saved = document;
        status.value = 'Draft saved';
        conflict.value = '';
        queries.removeQueries({ queryKey: ['report', document.id], exact: false, predicate: ({ queryKey }) => queryKey[2] === false });
      } catch (error) {
        if (isPassing(error)) {
          status.value = 'Not saved yet: no connection. It is tried again.';
          await new Promise((resolve) => setTimeout(resolve, 1_500));
          continue;
        }
        status.value = 'Not saved';
        conflict.value =
          error instanceof ApiProblem ? error.message : 'The draft could not be saved. Try another change, or reload the page.';
        return;
      }
    }
  }

  return {
    report,
    revision,
    status,
    conflict,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    /** Puts a changed exhibit in the place of the one with its id. */
    change(exhibit: Exhibit): void {
      past.value = [...past.value, report.value];
      future.value = [];
      set({ ...report.value, exhibits: report.value.exhibits.map((one) => (one.id === exhibit.id ? exhibit : one)) });
    },
    undo(): void {
      const last = past.value.at(-1);
      if (!last) return;
      past.value = past.value.slice(0, -1);
      future.value = [...future.value, report.value];
      set(last);
    },
    redo(): void {
      const next = future.value.at(-1);
      if (!next) return;
      future.value = future.value.slice(0, -1);
      past.value = [...past.value, report.value];
      set(next);
    },
  };
}
