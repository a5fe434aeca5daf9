import { sectionsResponseSchema, type SectionsResponse } from '@bold-compass/core/api';
import { figureText, LOCALE } from '@bold-compass/core/format';
import {
  fieldLabel,
  fieldPlural,
  findField,
  measureNamed,
  type Dataset,
  type ReaderScope,
  type SectionLayout,
  type Sections,
} from '@bold-compass/core/model';
import { allTogether, withWhole } from '@bold-compass/core/sections';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { useRoute, type LocationQueryRaw } from 'vue-router';
import { ask } from '../api/client.ts';
import { isSameSection, layoutQuery, readLayout, readSection, sectionQuery, WHOLE, type OpenSection } from './address.ts';

type Figure = SectionsResponse['whole'];

/** A section as it is offered. */
export interface OfferedSection {
  section: OpenSection;
  key: string;
  label: string;
  isEmpty: boolean;
  figure: Figure;
  /** The figure in words; empty where there is none. */
  value: string;
}

/** What sections are of. */
interface Repeated {
  sections: ComputedRef<Sections | undefined>;
  /** The dataset that they go by. */
  dataset: ComputedRef<Dataset>;
  report: string;
  page: ComputedRef<string | undefined>;
  exhibit?: string;
  /** What is asked, whatever section is open. */
  asked: ComputedRef<ReaderScope>;
  draft: ComputedRef<boolean>;
  version: ComputedRef<string>;
  navigate(query: LocationQueryRaw, how: 'step' | 'rewrite'): void;
  /** Whether it is composed: how sections are laid out is then a setting. */
  composing: ComputedRef<boolean>;
  write(sections: Sections): void;
}

export type SectionsState = ReturnType<typeof useSections>;

/** The sections of a page or an exhibit: which there are, how they are laid out, and which one is open. */
export function useSections(repeated: Repeated) {
  const { sections, dataset, page, exhibit, asked, draft, version, navigate } = repeated;
  const route = useRoute();
  const query = useQuery({
    queryKey: computed(() => ['sections', repeated.report, version.value, page.value, exhibit, asked.value, sections.value]),
    queryFn: ({ signal }) =>
      ask(
        sectionsResponseSchema,
        'POST',
        `/reports/${repeated.report}/sections`,
        { ...asked.value, draft: draft.value, ...(exhibit === undefined ? { page: page.value } : { exhibit }) },
        signal,
      ),
    enabled: computed(() => sections.value !== undefined),
    // Those of another page, or by another level, would be asked for here in vain.
    placeholderData: (before, earlier) => {
      if (!earlier) return undefined;
      const [, , , ofPage, , , by] = earlier.queryKey;
      return ofPage === page.value && (by as Sections | undefined)?.field === sections.value?.field ? before : undefined;
    },
  });
  const layout = computed((): SectionLayout => {
    if (!sections.value) return 'one-page';
    return repeated.composing.value ? sections.value.layout : readLayout(route.query, sections.value, exhibit);
  });
  const plural = computed(() =>
    sections.value && findField(dataset.value, sections.value.field) ? fieldPlural(dataset.value, sections.value.field) : '',
  );

  const label = computed(() =>
    sections.value && findField(dataset.value, sections.value.field) ? fieldLabel(dataset.value, sections.value.field).toLowerCase() : '',
  );

  const offered = computed((): OfferedSection[] => {
    const { value: own } = sections;
    const { data } = query;
    if (!own || !data.value) return [];
    const format = own.figure && (own.figure.format ?? measureNamed(dataset.value, own.figure.measure).format);
    const value = (figure: Figure): string => (format && figure ? figureText(figure.value, format, LOCALE) : '');
    const members = data.value.sections.map(({ member, label, records, figure }) => {
      const section = { field: own.field, member };
      return { section, key: JSON.stringify([member]), label, isEmpty: records === 0, figure, value: value(figure) };
    });
    const { whole } = data.value;
    const all = {
      section: WHOLE,
      key: WHOLE,
      label: allTogether(dataset.value, own),
      isEmpty: false,
      figure: whole,
      value: value(whole),
    } as const;
    return withWhole<OfferedSection>(own, members, all);
  });
  const named = computed(() => sections.value && readSection(route.query, sections.value, exhibit));
  /** Whether all stand below each other; while composing there is one at a time. */
  const isOnePage = computed(() => layout.value === 'one-page' && !repeated.composing.value);
  /** The section that is open: the one that the address names, else the first where there is one at a time. */
  const open = computed((): OfferedSection | undefined => {
    const asNamed = offered.value.find(({ section }) => isSameSection(section, named.value));
    return asNamed ?? (isOnePage.value ? undefined : offered.value[0]);
  });
  const turn = (section: OpenSection): void => navigate({ ...sectionQuery(section, exhibit), ...withoutFigures(route.query) }, 'step');
  const lay = (to: SectionLayout): void => {
    if (!repeated.composing.value) navigate({ ...layoutQuery(to, exhibit), ...withoutFigures(route.query) }, 'step');
    else if (sections.value) repeated.write({ ...sections.value, layout: to });
  };
  return {
    sections,
    exhibit,
    layout,
    isOnePage,
    offered,
    open,
    named,
    label,
    plural,
    turn,
    lay,
    isLoading: query.isLoading,
    error: query.error,
  };
}

/** What a section is known by on a screen with several things in sections. */
export const blockName = ({ exhibit }: SectionsState, { key }: OfferedSection): string => `${exhibit ?? 'page'} ${key}`;

/** What lets go of the figure that is chosen: it is of another section. */
const withoutFigures = (query: LocationQueryRaw): LocationQueryRaw =>
  Object.fromEntries(Object.keys(query).flatMap((key) => (key.endsWith('.cell') || key === 'report.figure' ? [[key, undefined]] : [])));
