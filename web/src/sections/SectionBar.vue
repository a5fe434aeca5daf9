<script setup lang="ts">
import { SECTION_LAYOUTS, type SectionLayout } from '@bold-compass/core/model';
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js';
import { computed } from 'vue';
import BearingNeedle from '../report/BearingNeedle.vue';
import { useReport } from '../report/context.ts';
import { LAYOUT_WORDS } from './wording.ts';
import { blockName, type OfferedSection, type SectionsState } from './use-sections.ts';

/** The sections to choose from, and how they are laid out. */
const props = defineProps<{ state: SectionsState }>();
const { composing } = useReport();
const { sections, offered, open, layout, isOnePage, label, turn, lay } = props.state;

/** Beyond as many they are found by name. */
const MOST_LISTED = 24;
const at = computed(() => offered.value.findIndex(({ key }) => key === open.value?.key));
const byKey = (key: unknown): OfferedSection | undefined => offered.value.find((one) => one.key === key);
const isFewer = computed(() => offered.value.length <= MOST_LISTED);
const mayLay = computed(() => composing.value || sections.value?.readersChoose);
function go(one: OfferedSection | undefined): void {
  if (!one) return;
  turn(one.section);
  if (!isOnePage.value) return;
  document.querySelector(`[data-section=${CSS.escape(blockName(props.state, one))}]`)?.scrollIntoView({ block: 'start' });
}
const step = (by: -1 | 1): void => go(offered.value[at.value + by]);
const titleOf = ({ label, value }: OfferedSection): string => [label, value].filter((words) => words !== '').join(' · ');
</script>

<template>
  <div class="bar">
    <v-tabs
      v-if="layout === 'tab-each'"
      :model-value="open?.key"
      class="tabs"
      show-arrows
      :aria-label="`Sections by ${label}`"
      @update:model-value="go(byKey($event))"
    >
      <v-tab v-for="one in offered" :key="one.key" :value="one.key" :class="{ empty: one.isEmpty }" :title="titleOf(one)">
        <BearingNeedle v-if="one.figure" :state="one.figure.state" :turn="one.figure.bearing" :size="15" />
        {{ one.label }}
      </v-tab>
    </v-tabs>
    <nav v-else-if="isOnePage && isFewer" class="contents" aria-label="Contents">
      <v-btn v-for="one in offered" :key="one.key" variant="plain" class="inline" :class="{ empty: one.isEmpty }" @click="go(one)">
        <BearingNeedle v-if="one.figure" :state="one.figure.state" :turn="one.figure.bearing" :size="14" />
        <span class="name">{{ one.label }}</span> <span v-if="one.value" class="muted">{{ one.value }}</span>
      </v-btn>
    </nav>
    <div v-else class="turning">
      <v-btn
        v-if="layout === 'page-each'"
        :icon="mdiChevronLeft"
        variant="text"
        size="small"
        aria-label="Previous section"
        title="Previous section"
        :disabled="at <= 0"
        @click="step(-1)"
      />
      <v-autocomplete
        class="find"
        :aria-label="layout === 'page-each' ? 'Section' : 'Go to section'"
        :placeholder="layout === 'page-each' ? undefined : 'Go to section'"
        :model-value="open?.key"
        :items="offered.map((one) => ({ value: one.key, title: titleOf(one) }))"
        density="compact"
        hide-details
        auto-select-first
        @update:model-value="go(byKey($event))"
      />
      <v-btn
        v-if="layout === 'page-each'"
        :icon="mdiChevronRight"
        variant="text"
        size="small"
        aria-label="Next section"
        title="Next section"
        :disabled="at >= offered.length - 1"
        @click="step(1)"
      />
    </div>
    <div v-if="mayLay" class="laying">
      <span id="laid-out" class="muted">Sections by {{ label }}</span>
      <v-btn-toggle
        :model-value="layout"
        mandatory
        density="compact"
        aria-labelledby="laid-out"
        @update:model-value="lay($event as SectionLayout)"
      >
        <v-btn v-for="one in SECTION_LAYOUTS" :key="one" :value="one" size="small">{{ LAYOUT_WORDS[one] }}</v-btn>
      </v-btn-toggle>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 20px;
  margin-top: 8px;
  border-bottom: 1px solid var(--rule);
}
.tabs {
  flex: 1 1 320px;
  min-width: 0;
  border: 0;
}
.tabs :deep(.v-btn__content) {
  gap: 7px;
}
.empty {
  opacity: 0.75;
  font-style: italic;
}
.contents {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  flex: 1 1 320px;
  padding: 4px 0;
}
.contents :deep(.v-btn__content) {
  gap: 6px;
}
.name {
  font-weight: 600;
}
.turning {
  display: flex;
  align-items: center;
  gap: 4px;
  flex: 1 1 280px;
  max-width: 460px;
  padding: 6px 0;
}
.find {
  flex: 1;
}
.laying {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 5px 0;
  font-size: 13px;
}
</style>
