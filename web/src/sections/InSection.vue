<script setup lang="ts">
import { computed } from 'vue';
import { useRoute, type LocationQuery } from 'vue-router';
import { provideReport, useReport } from '../report/context.ts';
import { provideFiguresAlong } from '../report/figures.ts';
import { useValues } from '../report/values.ts';
import {
  askedAsWritten,
  askedInSection,
  isSameSection,
  readScales,
  readSection,
  scalesQuery,
  sectionQuery,
  WHOLE,
  type OpenSection,
} from './address.ts';
import { provideSectionScales } from './section-scales.ts';
import type { SectionsState } from './use-sections.ts';

/** What is shown in it is asked in a section. */
const props = defineProps<{ state: SectionsState; section: OpenSection }>();
const outer = useReport();
const route = useRoute();
const { exhibit } = props.state;
const asked = computed(() =>
  outer.composing.value ? askedAsWritten(outer.asked.value, props.section) : askedInSection(outer.asked.value, props.section, exhibit),
);
const choices = computed(() => asked.value.choices);
/** Whether the address is about this section. */
const isNamed = computed(() => {
  const { value: sections } = props.state.sections;
  const named = sections && readSection(route.query, sections, exhibit);
  return named === undefined ? props.state.layout.value !== 'one-page' : isSameSection(named, props.section);
});
// A figure that is chosen in another section is none of these; what leads here names this one.
const address = computed(() => {
  const own = Object.entries(outer.address.value).filter(([key]) => isNamed.value || !key.endsWith('.cell'));
  const named = Object.entries(sectionQuery(props.section, exhibit)).map(([key, text]) => [key, String(text)]);
  return Object.fromEntries([...own, ...named]) as LocationQuery;
});
const fill = useValues(outer.view, outer.report, asked, outer.draft);
provideReport({ ...outer, asked, choices, address, fill });
provideSectionScales({
  field: computed(() => props.state.sections.value?.field ?? ''),
  scales: computed(() => {
    const { value: sections } = props.state.sections;
    return sections && props.section !== WHOLE ? readScales(route.query, sections, exhibit) : 'own';
  }),
  askedOfAll: computed(() => askedInSection(outer.asked.value, undefined, exhibit)),
  choose: (scales) => outer.navigate(scalesQuery(scales, exhibit), 'rewrite'),
});
provideFiguresAlong(() => sectionQuery(props.section, exhibit));
</script>

<template>
  <slot />
</template>
