import { isDataExhibit, type Dataset, type Exhibit, type Measure, type Report } from '@bold-compass/core/model';
import { inject, provide, type ComputedRef, type InjectionKey, type Ref } from 'vue';
import type { Edge } from './edges.ts';

/** What the margin is about: an exhibit, or a tag on it; the report itself where it is null. */
export interface Selection {
  exhibit: string;
  part?: { kind: 'level'; edge: Edge; field: string; group?: string } | { kind: 'cell'; index: number };
}

/** The formula that is being written: of a measure of the report, placed in a cross-tab once it is applied where it is new. */
export interface WrittenFormula {
  measure: Measure;
  isNew: boolean;
  /** The cross-tab in view, and where in its cells a new measure is placed. */
  exhibit: string | null;
  at: number;
}

/** What the parts of the page share while a report is composed. */
interface ComposeContext {
  report: ComputedRef<Report>;
  selection: Ref<Selection | null>;
  selected: ComputedRef<Exhibit | undefined>;
  /** Datasets that the report's exhibits answer from, by name. */
  datasets: ComputedRef<Record<string, Dataset>>;
  /** Null while no formula is being written. */
  written: Ref<WrittenFormula | null>;
  /** The name of a field or measure that is to be written into the formula. */
  insertion: Ref<string | null>;
  change(exhibit: Exhibit): void;
  setReport(report: Report): void;
}

const key: InjectionKey<ComposeContext> = Symbol('compose');
export const provideCompose = (context: ComposeContext): void => provide(key, context);
export function useCompose(): ComposeContext {
  const context = inject(key);
  if (!context) throw new Error('No report is being composed here.');
  return context;
}

/** The dataset that an exhibit answers from. */
export function datasetOf({ report, datasets }: Pick<ComposeContext, 'report' | 'datasets'>, exhibit: Exhibit | undefined): Dataset {
  const own = exhibit && isDataExhibit(exhibit) ? exhibit.dataset : undefined;
  return datasets.value[own ?? report.value.dataset] ?? datasets.value[report.value.dataset];
}
