import { savedSchema, type ReportView } from '@bold-compass/core/api';
import { reportChanges } from '@bold-compass/core/changes';
import { reportSchema, type Exhibit, type Report } from '@bold-compass/core/model';
import { useQueryClient } from '@tanstack/vue-query';
import { createPatch } from 'rfc6902';
import { computed } from 'vue';
import { ApiProblem, ask } from '../api/client.ts';
import { historyKeeper } from '../drafts/draft-history.ts';
import { useSavedDocument } from '../drafts/saved-document.ts';

/** A document as it is sent: without what JSON leaves out. */
const plain = (report: Report): unknown => JSON.parse(JSON.stringify(report));

/** The draft of a report: every change saves by itself, and can be undone. */
export function useDraft(loaded: ReportView) {
  const queries = useQueryClient();
  const { document, change, ...draft } = useSavedDocument<Report>(
    loaded.report,
    loaded.revision,
    async (report, revision, before) => {
      // What changed is a hundred bytes where the whole is many thousand.
      const changes = createPatch(plain(before), plain(report));
      const path = `/reports/${encodeURIComponent(report.id)}`;
      const saved = await ask(savedSchema, 'PATCH', path, { changes, revision }).catch((failure: unknown) => {
        if (!(failure instanceof ApiProblem) || failure.code !== 'changes-unfit') throw failure;
        return ask(savedSchema, 'PUT', path, { report, revision });
      });
      queries.removeQueries({ queryKey: ['report', report.id], exact: false, predicate: ({ queryKey }) => queryKey[2] === false });
      // Composing again begins with what was saved here, and from its revision.
      queries.setQueryData<ReportView>(['report', report.id, true], (known) => known && { ...known, report, revision: saved.revision });
      return saved.revision;
    },
    historyKeeper(`report ${loaded.report.id}`, reportSchema),
  );
  /** What changed between two states of the draft, in a sentence; empty where nothing did that can be said. */
  function stepWords(from: Report | null, to: Report | null): string {
    if (!from || !to) return '';
    const { dataset, datasets } = loaded;
    const [first, ...more] = reportChanges(from, to, (name) => (name === dataset.name ? dataset : datasets[name]));
    if (first === undefined) return '';
    return more.length > 0 ? `${first} And ${more.length} more.` : first;
  }
  return {
    ...draft,
    report: document,
    /** What the last step was, and the next one that was undone, in a sentence. */
    lastStep: computed(() => stepWords(draft.before.value, document.value)),
    nextStep: computed(() => stepWords(document.value, draft.after.value)),
    /** Changes the document as a whole. */
    set: change,
    /** Puts a changed exhibit in the place of the one with its id. */
    change: (exhibit: Exhibit): void =>
      change({ ...document.value, exhibits: document.value.exhibits.map((one) => (one.id === exhibit.id ? exhibit : one)) }),
  };
}
