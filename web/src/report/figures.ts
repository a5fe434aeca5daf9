import { withAggregations } from '@bold-compass/core/crosstab';
import { isCellExhibit, type Exhibit, type LinkPlace } from '@bold-compass/core/model';
import { varianceTable } from '@bold-compass/core/variance';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, inject, onScopeDispose, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue';
import { useRoute } from 'vue-router';
import { useReport, type ReportContext } from './context.ts';
import { explanationQuery, type ChosenFigure } from './explanation-query.ts';
import { useLinks } from './links.ts';
import { chosenIn, figureQuery, readCrosstabState, readVarianceCell, type ChosenCell } from './url-state.ts';

/** The one figure of a page that is chosen. */
export interface Figures {
  chosen: ComputedRef<ChosenFigure | null>;
  /** Whether the records behind it are open. */
  recordsShown: Ref<boolean>;
  /** Chooses a figure, or none; the choice before ends. Returns whether this choice still stands. */
  choose(exhibit: Pick<Exhibit, 'id'>, cell: ChosenCell | null): () => boolean;
}

const key: InjectionKey<Figures> = Symbol('figures');

/** `shownAs` gives an exhibit as the reader chose to see it. */
export function provideFigures(
  { report, view, navigate }: Pick<ReportContext, 'report' | 'view' | 'navigate'>,
  onPage: ComputedRef<readonly Exhibit[]>,
  shownAs: <Own extends Exhibit>(exhibit: Own) => Own,
): Figures {
  const route = useRoute();
  const figureOf = (exhibit: Exhibit): ChosenFigure | null => {
    const { dataset, datasets } = view.value;
    const own = 'dataset' in exhibit && exhibit.dataset !== undefined ? (datasets[exhibit.dataset] ?? dataset) : dataset;
    if (isCellExhibit(exhibit)) {
      const shown = shownAs(exhibit);
      const { cell, ...standing } = readCrosstabState(shown, route.query);
      return cell && { ...withAggregations(own, shown), cell, standing };
    }
    const cell = exhibit.kind === 'variance' ? readVarianceCell(exhibit, route.query) : null;
    if (exhibit.kind !== 'variance' || !cell) return null;
    const table = varianceTable(own, shownAs(exhibit), cell.along);
    const { side, top } = readCrosstabState(table.exhibit, {});
    return { ...table, cell, standing: { side, top } };
  };
  const chosen = computed(() => {
    const exhibit = chosenIn(onPage.value, route.query);
    return exhibit ? figureOf(exhibit) : null;
  });
  const recordsShown = ref(false);
  let choices = 0;
  onScopeDispose(() => choices++);
  function choose(exhibit: Pick<Exhibit, 'id'>, cell: ChosenCell | null): () => boolean {
    const own = ++choices;
    recordsShown.value = false;
    navigate(figureQuery(report.value.exhibits, exhibit.id, cell), 'rewrite');
    return () => own === choices;
  }
  const figures = { chosen, recordsShown, choose };
  provide(key, figures);
  return figures;
}

export function useFigures(): Figures {
  const figures = inject(key);
  if (!figures) throw new Error('No report is open here.');
  return figures;
}

/** Chooses figures of an exhibit and follows their links: what they lead to is asked for, and what was asked before is given up. */
export function useFollow() {
  const queries = useQueryClient();
  const context = useReport();
  const { choose, recordsShown } = useFigures();
  const { follow } = useLinks();
  return async (figure: ChosenFigure, from: LinkPlace): Promise<void> => {
    const isStill = choose(figure.exhibit, figure.cell);
    const asked = context.asked.value;
    // The margin asks the same, and says what is wrong where this fails.
    const explanation = await queries.fetchQuery(explanationQuery(context, figure, asked)).catch(() => null);
    const link = explanation?.drills.find((one) => one.from === from && !one.reason);
    if (!link || !isStill() || context.asked.value !== asked) return;
    if (link.to === 'records') recordsShown.value = true;
    else follow(link);
  };
}
