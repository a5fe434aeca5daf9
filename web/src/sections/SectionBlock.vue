<script setup lang="ts">
import { useElementSize, useIntersectionObserver } from '@vueuse/core';
import { onMounted, ref, useTemplateRef, watch } from 'vue';
import ExhibitState from '../report/ExhibitState.vue';
import InSection from './InSection.vue';
import SectionHeading from './SectionHeading.vue';
import { isSameSection } from './address.ts';
import { blockName, type OfferedSection, type SectionsState } from './use-sections.ts';

/** One of many sections below each other: only what is seen, or soon will be, is asked; the others keep their place. */
const props = defineProps<{ state: SectionsState; section: OfferedSection; number: number }>();

/** How high a section is before it was seen, in pixels. */
const FIRST_GUESS = 480;
const block = useTemplateRef<HTMLElement>('block');
const content = useTemplateRef<HTMLElement>('content');
const isNear = ref(false);
const height = ref(FIRST_GUESS);
const { height: measured } = useElementSize(content);
watch(measured, (now) => isNear.value && now > 0 && (height.value = now));
useIntersectionObserver(block, ([{ isIntersecting }]) => (isNear.value = isIntersecting), { rootMargin: '700px 0px' });

// The address leads to its section; a figure that is chosen there is in view already.
onMounted(() => isSameSection(props.state.named.value, props.section.section) && block.value?.scrollIntoView({ block: 'start' }));
</script>

<template>
  <section ref="block" class="block" :aria-label="section.label" :data-section="blockName(state, section)">
    <SectionHeading :section="section" :number="number" :of="state.offered.value.length" :is-inner="state.exhibit !== undefined" />
    <ExhibitState v-if="section.isEmpty" kind="empty" :title="`Nothing for ${section.label} under this scope`" />
    <div v-else :style="{ minHeight: `${height}px` }">
      <div ref="content">
        <InSection v-if="isNear" :state="state" :section="section.section"><slot /></InSection>
      </div>
    </div>
  </section>
</template>

<style scoped>
.block {
  scroll-margin-top: 8px;
}
.block + .block {
  margin-top: 26px;
}
</style>
