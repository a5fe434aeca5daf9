import { explanationSchema, type ViewState } from '@bold-compass/core/api';
import { measureInRow } from '@bold-compass/core/crosstab';
import { goesByPlace, planMeasure } from '@bold-compass/core/formula';
import type { CellExhibit, Dataset, ReaderScope } from '@bold-compass/core/model';
import { ask } from '../api/client.ts';
import type { ReportContext } from './context.ts';
import type { ChosenCell } from './url-state.ts';

/** A figure with all that its explanation hangs on. */
export interface ChosenFigure {
  exhibit: CellExhibit;
  cell: ChosenCell;
  /** Of the exhibit, with measures that are there for it alone. */
  dataset: Dataset;
  viewState: ViewState;
}

/** The measure that stands in a cell: in rows of some levels another than its column's. */
export function measureShown({ exhibit, cell }: Pick<ChosenFigure, 'exhibit' | 'cell'>): string {
  const own = exhibit.cells.find(({ measure }) => measure === cell.measure);
  return (own && measureInRow(own, exhibit.side.fields, cell.side.length)) ?? cell.measure;
}

/** How the table stands, where the figure hangs on it: totals of what is shown, and formulas that go by the order of members. */
export function viewStateOf(figure: ChosenFigure): ViewState | undefined {
  const { dataset, exhibit, cell } = figure;
  const hangs =
    goesByPlace(planMeasure(dataset, measureShown(figure)).cell) ||
    exhibit.cells.some(({ measure, totals }) => measure === cell.measure && totals);
  return hangs ? figure.viewState : undefined;
}

/** The question why a figure is what it is, and where it leads. Who asks it twice is answered once. */
export function explanationQuery({ report, versionOf, draft }: ReportContext, figure: ChosenFigure, asked: ReaderScope) {
  const { exhibit, cell } = figure;
  const viewState = viewStateOf(figure);
  return {
    queryKey: ['explain', report.value.id, versionOf(exhibit.id), exhibit.id, asked, cell, viewState],
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      ask(
        explanationSchema,
        'POST',
        `/reports/${report.value.id}/exhibits/${exhibit.id}/explain`,
        { ...cell, viewState, ...asked, draft: draft.value },
        signal,
      ),
  };
}
