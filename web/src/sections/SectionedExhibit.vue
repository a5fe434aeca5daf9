<script setup lang="ts">
import { isDataExhibit, type Exhibit } from '@bold-compass/core/model';
import { knownSections, sectionsOfExhibit } from '@bold-compass/core/sections';
import { computed } from 'vue';
import { useReport } from '../report/context.ts';
import ExhibitHost from '../report/ExhibitHost.vue';
import SectionedContent from './SectionedContent.vue';
import SectionedCopy from './SectionedCopy.vue';
import { askedInSection } from './address.ts';
import { useSections } from './use-sections.ts';

/** An exhibit that is repeated in sections of its own, in its place on the page. */
const props = defineProps<{ exhibit: Exhibit; number: number }>();
const { report, view, asked, draft, versionOf, navigate, composing, change } = useReport();
const { id } = props.exhibit;
const dataset = computed(() => {
  const { exhibit } = props;
  const { dataset: own, datasets } = view.value;
  return 'dataset' in exhibit && exhibit.dataset ? (datasets[exhibit.dataset] ?? own) : own;
});
const state = useSections({
  sections: computed(() => knownSections(sectionsOfExhibit(props.exhibit), dataset.value)),
  ...{ dataset, report: report.value.id, page: computed(() => props.exhibit.page), exhibit: id, draft, navigate, composing },
  asked: computed(() => askedInSection(asked.value, undefined, id)),
  version: computed(() => versionOf(id)),
  write(sections) {
    if (isDataExhibit(props.exhibit)) change({ ...props.exhibit, sections });
  },
});
</script>

<template>
  <SectionedContent v-if="state.sections.value" :state="state"><SectionedCopy :id="id" :number="number" /></SectionedContent>
  <ExhibitHost v-else :exhibit="exhibit" :number="number" />
</template>
