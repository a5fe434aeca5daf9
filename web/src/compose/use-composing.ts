import { newExhibit } from '@bold-compass/core/exhibits';
import { datasetSchema, isDataExhibit, measureNamed, type Dataset, type Exhibit, type Report } from '@bold-compass/core/model';
import { computed, ref, watch, type ComputedRef } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { withExhibit } from './added-exhibit.ts';
import { datasetOf, provideCompose, type Selection, type WrittenFormula } from './context.ts';
import { dragged, endDrag } from './dragging.ts';
import { placeFields, placeMeasure } from './edges.ts';

/** What composing shares: what is chosen, and the datasets that exhibits answer from. */
export function useComposing(
  report: ComputedRef<Report>,
  own: () => { dataset: Dataset; datasets: Record<string, Dataset> },
  draft: { change(exhibit: Exhibit): void; set(report: Report): void },
) {
  const selection = ref<Selection | null>(null);
  const selected = computed(() => report.value.exhibits.find(({ id }) => id === selection.value?.exhibit));
  /** Datasets that exhibits brought in while composing. */
  const added = ref<Record<string, Dataset>>({});
  const datasets = computed((): Record<string, Dataset> => {
    const { dataset, datasets: others } = own();
    return { ...others, ...added.value, [dataset.name]: dataset };
  });
  const written = ref<WrittenFormula | null>(null);
  const insertion = ref<string | null>(null);
  provideCompose({ report, selection, selected, datasets, written, insertion, change: draft.change, setReport: draft.set });
  // An exhibit that was added, or pasted, may answer from a dataset that this report did not know.
  watch(
    () => report.value.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])),
    async (names) => {
      for (const name of names.filter((other) => !datasets.value[other])) {
        const { dataset } = await ask(z.object({ dataset: datasetSchema, version: z.number() }), 'GET', `/datasets/${name}`);
        added.value = { ...added.value, [name]: dataset };
      }
    },
  );

  /** A field dropped on the empty place of a page starts a cross-tab. */
  function startExhibit(page: string | undefined): void {
    const what = dragged.value;
    endDrag();
    if (what?.kind !== 'field' && what?.kind !== 'measure') return;
    const dataset = datasetOf({ report, datasets }, selected.value);
    const made = newExhibit('crosstab', report.value, dataset, page);
    if (made?.kind !== 'crosstab') return;
    const exhibit = what.kind === 'field' ? placeFields(made, 'side', what.fields) : placeMeasure(made, measureNamed(dataset, what.name));
    draft.set({ ...report.value, exhibits: [...report.value.exhibits, exhibit] });
    selection.value = { exhibit: exhibit.id };
  }
  /** Adds an exhibit over the report's own dataset, and chooses it. */
  function addExhibit(kind: Exhibit['kind'], page: string | undefined): void {
    const exhibit = newExhibit(kind, report.value, own().dataset, page);
    if (!exhibit) return;
    draft.set(withExhibit(report.value, exhibit, own().dataset));
    selection.value = { exhibit: exhibit.id };
  }
  return { selection, selected, datasets, written, startExhibit, addExhibit };
}
