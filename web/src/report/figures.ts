import { withAggregations } from '@bold-compass/core/crosstab';
import { missingNames } from '@bold-compass/core/exhibits';
import { isCellExhibit, type Exhibit, type LinkPlace } from '@bold-compass/core/model';
import { varianceTable } from '@bold-compass/core/variance';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, inject, onScopeDispose, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue';
import { useRoute, type LocationQueryRaw } from 'vue-router';
import { useReport, type ReportContext } from './context.ts';
import { explanationQuery, type ChosenFigure } from './explanation-query.ts';
import { useLinks } from './links.ts';
import { shownExhibit } from './shown-exhibit.ts';
import { chosenIn, figureQuery, readCrosstabState, readVarianceCell, type ChosenCell } from './url-state.ts';

/** The one figure of a page that is chosen. */
interface Figures {
  chosen: ComputedRef<ChosenFigure | null>;
  /** Whether the records behind it are open. */
  recordsShown: Ref<boolean>;
  /** Chooses a figure, or none; the choice before ends. `along` is further parts of the address. */
  choose(exhibit: Pick<Exhibit, 'id'>, cell: ChosenCell | null, along?: LocationQueryRaw): void;
  /** Begins something that ends with the next choice, or with the page: tells whether that has come. */
  begin(): () => boolean;
}

const isMissing = ({ fields, measures }: ReturnType<typeof missingNames>): boolean => fields.length + measures.length > 0;

const key: InjectionKey<Figures> = Symbol('figures');

export function provideFigures(context: ReportContext, onPage: ComputedRef<readonly Exhibit[]>): Figures {
  const { report, view, navigate } = context;
  const route = useRoute();
  const figureOf = (exhibit: Exhibit): ChosenFigure | null => {
    const { dataset, datasets } = view.value;
    const own = 'dataset' in exhibit && exhibit.dataset !== undefined ? datasets[exhibit.dataset] : dataset;
    if (!own || isMissing(missingNames(exhibit, own))) return null;
    if (isCellExhibit(exhibit)) {
      const shown = shownExhibit(context, exhibit);
      const { cell, ...viewState } = readCrosstabState(shown, route.query);
      return cell && { ...withAggregations(own, shown), cell, viewState };
    }
    const cell = exhibit.kind === 'variance' ? readVarianceCell(exhibit, route.query) : null;
    if (exhibit.kind !== 'variance' || !cell) return null;
    const table = varianceTable(own, shownExhibit(context, exhibit), cell.along);
    const { side, top } = readCrosstabState(table.exhibit, {});
    return { ...table, cell, viewState: { side, top } };
  };
  const chosen = computed(() => {
    const exhibit = chosenIn(onPage.value, route.query);
    return exhibit ? figureOf(exhibit) : null;
  });
  const recordsShown = ref(false);
  let choices = 0;
  onScopeDispose(() => choices++);
  function begin(): () => boolean {
    const own = ++choices;
    return () => own !== choices;
  }
  function choose(exhibit: Pick<Exhibit, 'id'>, cell: ChosenCell | null, along: LocationQueryRaw = {}): void {
    begin();
    recordsShown.value = false;
    navigate({ ...figureQuery(report.value.exhibits, exhibit.id, cell), ...along }, 'rewrite');
  }
  const figures = { chosen, recordsShown, choose, begin };
  provide(key, figures);
  return figures;
}

/** Figures below are chosen together with further parts of the address. */
export function provideFiguresAlong(along: () => LocationQueryRaw): void {
  const outer = useFigures();
  provide(key, { ...outer, choose: (exhibit, cell, inner = {}) => outer.choose(exhibit, cell, { ...along(), ...inner }) });
}

export function useFigures(): Figures {
  const figures = inject(key);
  if (!figures) throw new Error('No report is open here.');
  return figures;
}

/**
 * Follows the first link of a figure, or of the label of its row, which leaves the chosen figure as it is. What it leads to is
 * asked for; what was asked before is given up.
 */
export function useFollow() {
  const queries = useQueryClient();
  const context = useReport();
  const { choose, begin, recordsShown } = useFigures();
  const { follow } = useLinks();
  return async (figure: ChosenFigure, from: LinkPlace): Promise<void> => {
    if (from === 'cells') choose(figure.exhibit, figure.cell);
    const isOver = begin();
    const question = explanationQuery(context, figure, context.asked.value);
    const before = JSON.stringify(question.queryKey);
    const explanation = await queries.fetchQuery(question).catch(() => null);
    const isSame = (): boolean => JSON.stringify(explanationQuery(context, figure, context.asked.value).queryKey) === before;
    if (isOver() || !isSame()) return;
    const link = explanation?.drills.find((one) => one.from === from && !one.reason);
    if (link && link.to !== 'records') return follow(link);
    // The margin shows the records, or why there is nowhere to go.
    choose(figure.exhibit, figure.cell);
    recordsShown.value = link !== undefined;
  };
}
