<script setup lang="ts">
import BearingNeedle from '../report/BearingNeedle.vue';
import type { OfferedSection } from './use-sections.ts';

/** The name of a section, with its figure. */
defineProps<{ section: OfferedSection; number: number; of: number; isInner?: boolean }>();
</script>

<template>
  <header class="heading" :class="{ inner: isInner }">
    <component :is="isInner ? 'h3' : 'h2'" class="serif">{{ section.label }}</component>
    <span v-if="section.value" class="value serif">
      {{ section.value }}
      <BearingNeedle v-if="section.figure" :state="section.figure.state" :turn="section.figure.bearing" :size="18" />
    </span>
    <span class="muted place">Section {{ number }} of {{ of }}</span>
  </header>
</template>

<style scoped>
.heading {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 16px;
  padding: 12px 0 6px;
  border-bottom: 1px solid var(--rule);
}
h2,
h3 {
  font-size: 24px;
  line-height: 1.25;
}
.inner h3 {
  font-size: 17px;
}
.value {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  font-size: 19px;
}
.inner .value {
  font-size: 15px;
}
.place {
  margin-left: auto;
  font-size: 12.5px;
}
</style>
