import type { ReaderScope, SectionScales } from '@bold-compass/core/model';
import { inject, provide, type ComputedRef, type InjectionKey } from 'vue';

/** Whether the charts of a section have their scales in common with those of the others, and what all of these are asked under. */
interface ScalesOfSections {
  field: ComputedRef<string>;
  scales: ComputedRef<SectionScales>;
  /** What is asked, whatever the section. */
  askedOfAll: ComputedRef<ReaderScope>;
  choose(scales: SectionScales): void;
}

const key: InjectionKey<ScalesOfSections> = Symbol('scales of sections');

export const provideSectionScales = (scales: ScalesOfSections): void => provide(key, scales);
/** Null where a chart is in no section. */
export const useSectionScales = (): ScalesOfSections | null => inject(key, null);
