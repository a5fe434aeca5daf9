import { followedPlace, following } from '@bold-compass/core/prompts';
import { exhibitAsChosen } from '@bold-compass/core/exhibits';
import { isCellExhibit, type CellExhibit, type Exhibit, type ReaderScope } from '@bold-compass/core/model';
import { computed, type ComputedRef } from 'vue';
import { useReport } from './context.ts';
import { readCrosstabState } from './url-state.ts';

/** What exhibits are asked under where they follow what is chosen in another one. */
export function useFollowing(exhibit: () => Exhibit): ComputedRef<ReaderScope> {
  const { report, choices, view, asked, address } = useReport();
  const place = computed(() => {
    const own = exhibit();
    const id = 'follows' in own ? own.follows : undefined;
    const followed = report.value.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === id);
    if (!followed || followed.id === own.id) return null;
    const shown = exhibitAsChosen(report.value, choices.value, followed, view.value.dataset);
    const { cell } = readCrosstabState(shown, address.value);
    return cell && followedPlace(shown, cell);
  });
  return computed(() => (place.value ? following(asked.value, place.value) : asked.value));
}
