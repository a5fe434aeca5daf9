<script setup lang="ts">
import { computed } from 'vue';
import ExhibitState from '../report/ExhibitState.vue';
import { useReport } from '../report/context.ts';
import InSection from './InSection.vue';
import SectionBar from './SectionBar.vue';
import SectionBlock from './SectionBlock.vue';
import SectionHeading from './SectionHeading.vue';
import { WHOLE } from './address.ts';
import type { SectionsState } from './use-sections.ts';

/** What is repeated in sections, as they are laid out: below each other, as pages, or as tabs. */
const props = defineProps<{ state: SectionsState }>();
const { resetScope } = useReport();
const { offered, open, layout, isOnePage, plural, exhibit, isLoading, error } = props.state;
const number = computed(() => offered.value.findIndex(({ key }) => key === open.value?.key) + 1);
const members = computed(() => offered.value.filter(({ section }) => section !== WHOLE));
const empties = computed(() => members.value.filter(({ isEmpty }) => isEmpty).length);
</script>

<template>
  <ExhibitState v-if="isLoading" kind="loading" title="Loading the sections" />
  <ExhibitState v-else-if="error" kind="failed" title="The sections cannot be listed" :message="error.message" />
  <ExhibitState
    v-else-if="offered.length === 0"
    kind="empty"
    :title="`No ${plural} have records under this scope`"
    message="Choose more in the scope line."
  >
    <v-btn @click="resetScope">Reset scope</v-btn>
  </ExhibitState>
  <div v-else class="sectioned" :class="{ inner: exhibit !== undefined }">
    <SectionBar :state="state" />
    <template v-if="isOnePage">
      <SectionBlock v-for="(one, index) in offered" :key="one.key" :state="state" :section="one" :number="index + 1">
        <slot />
      </SectionBlock>
    </template>
    <div v-else-if="open" :key="open.key" :role="layout === 'tab-each' ? 'tabpanel' : undefined" :aria-label="open.label">
      <SectionHeading v-if="layout !== 'tab-each'" :section="open" :number="number" :of="offered.length" />
      <ExhibitState v-if="open.isEmpty" kind="empty" :title="`Nothing for ${open.label} under this scope`" />
      <InSection v-else :state="state" :section="open.section"><slot /></InSection>
    </div>
    <p v-if="exhibit === undefined" class="muted count">
      {{ members.length }} {{ members.length === 1 ? 'section' : 'sections'
      }}{{ empties > 0 ? `, ${empties} without records` : ', none empty' }}. Totals are calculated from the records of each section.
    </p>
  </div>
</template>

<style scoped>
.count {
  margin: 14px 0 -8px;
  font-size: 12.5px;
}
.inner {
  margin-top: 14px;
}
</style>
