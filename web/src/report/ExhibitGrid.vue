<script setup lang="ts">
import type { Exhibit } from '@bold-compass/core/model';
import { kindOf } from '@bold-compass/core/exhibits';
import { sectionsOfExhibit } from '@bold-compass/core/sections';
import { computed, defineAsyncComponent } from 'vue';
import { useReport } from './context.ts';
import ExhibitHost from './ExhibitHost.vue';
import { shownExhibit } from './shown-exhibit.ts';

const ExhibitFrame = defineAsyncComponent(() => import('../compose/ExhibitFrame.vue'));
const SectionedExhibit = defineAsyncComponent(() => import('../sections/SectionedExhibit.vue'));

/** The exhibits of a page on its grid of twelve columns, as the reader chose to see them; composing shows them as they are written. */
const props = defineProps<{ exhibits: readonly Exhibit[] }>();
const context = useReport();
const { report, composing } = context;

const shown = computed(() => props.exhibits.map((exhibit) => shownExhibit(context, exhibit)));
/** Exhibits are numbered as in a printed report; the strip of key figures is none. */
const numbered = computed(() => report.value.exhibits.filter((exhibit) => kindOf(exhibit).isNumbered).map(({ id }) => id));
const numberOf = ({ id }: Exhibit): number => numbered.value.indexOf(id) + 1;

// A chart is as high as it is drawn: what stands around it, on a phone or while it is composed, comes on top.
const placeOf = ({ width, height, kind }: Exhibit): Record<string, string> => ({
  gridColumn: `span ${width}`,
  ...(height ? (kind === 'chart' ? { minHeight: `${height}px` } : { height: `${height}px`, overflow: 'auto' }) : {}),
});
</script>

<template>
  <div class="exhibits" :class="{ composing }">
    <template v-for="exhibit in shown" :key="exhibit.id">
      <ExhibitFrame v-if="composing" :exhibit="exhibit" class="placed" :style="placeOf(exhibit)">
        <SectionedExhibit v-if="sectionsOfExhibit(exhibit)" :exhibit="exhibit" :number="numberOf(exhibit)" />
        <ExhibitHost v-else :exhibit="exhibit" :number="numberOf(exhibit)" />
      </ExhibitFrame>
      <div v-else class="placed" :style="placeOf(exhibit)">
        <SectionedExhibit v-if="sectionsOfExhibit(exhibit)" :exhibit="exhibit" :number="numberOf(exhibit)" />
        <ExhibitHost v-else :exhibit="exhibit" :number="numberOf(exhibit)" />
      </div>
    </template>
    <slot />
  </div>
</template>

<style scoped>
.exhibits {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  gap: 0 22px;
  align-items: start;
}
.composing {
  gap: 28px 14px;
  margin-top: 28px;
}
.placed {
  min-width: 0;
}
@media (max-width: 700px) {
  .placed {
    grid-column: 1 / -1 !important;
  }
}
</style>
