<script setup lang="ts">
import { reportViewSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { useIntersectionObserver } from '@vueuse/core';
import { defineAsyncComponent, ref, useTemplateRef } from 'vue';
import { ask } from '../api/client.ts';
import { useTurn } from './turns.ts';

/**
 * The first page of a report as its reader sees it, made small. It is drawn anew for each person: a picture kept for all
 * would show figures that are not everyone's. It waits until nothing else is being fetched.
 */
const props = defineProps<{ report: string; version: string }>();
const OpenReport = defineAsyncComponent(() => import('../report/OpenReport.vue'));
const box = useTemplateRef<HTMLElement>('box');
const seen = ref(false);
const { stop } = useIntersectionObserver(box, ([entry]) => {
  if (!entry?.isIntersecting) return;
  seen.value = true;
  stop();
});
const { data } = useQuery({
  queryKey: ['thumbnail', props.report, props.version],
  queryFn: ({ signal }) => ask(reportViewSchema, 'GET', `/reports/${props.report}?glance=true`, undefined, signal),
  enabled: useTurn(seen),
  staleTime: Infinity,
});
</script>

<template>
  <span ref="box" class="thumbnail" aria-hidden="true" inert>
    <span v-if="data" class="page"><OpenReport :loaded="data" :composing="false" glance /></span>
  </span>
</template>

<style scoped>
.thumbnail {
  position: relative;
  display: block;
  width: 168px;
  height: 105px;
  overflow: hidden;
  border: 1px solid var(--rule);
  background: var(--paper);
  pointer-events: none;
}
.page {
  position: absolute;
  top: 0;
  left: 0;
  width: 1008px;
  height: 630px;
  overflow: hidden;
  transform: scale(0.1667);
  transform-origin: 0 0;
}
</style>
