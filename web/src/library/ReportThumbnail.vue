<script setup lang="ts">
import { thumbnailSchema } from '@bold-compass/core/api';
import { EXHIBIT_KINDS, isExhibitKind } from '@bold-compass/core/exhibits';
import { useQuery } from '@tanstack/vue-query';
import { useIntersectionObserver } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { ask } from '../api/client.ts';
import ChartSketch from './ChartSketch.vue';
import BearingNeedle from '../report/BearingNeedle.vue';
import { pictureAddress } from '../report/picture-address.ts';
import { useTurn } from './turns.ts';

/**
 * The first page of a report as its reader sees it, made small: a picture kept for all would show figures that are not
 * everyone's. It waits until nothing else is being fetched; until then the frame holds the outline of a page.
 */
const props = defineProps<{ report: string; version: string; kinds: string[] }>();
/** The title with its values, once they are known. */
const title = defineModel<string>('title');
/** What stands on its pages, in words. */
const contents = computed(() =>
  props.kinds
    .flatMap((kind) => (isExhibitKind(kind) ? [EXHIBIT_KINDS[kind].label] : []))
    .map((label, index) => (index === 0 ? label : label.toLowerCase()))
    .join(', '),
);
const box = useTemplateRef<HTMLElement>('box');
const seen = ref(false);
const { stop } = useIntersectionObserver(box, ([entry]) => {
  if (!entry?.isIntersecting) return;
  seen.value = true;
  stop();
});
const { data } = useQuery({
  queryKey: computed(() => ['thumbnail', props.report, props.version]),
  queryFn: ({ signal }) => ask(thumbnailSchema, 'GET', `/reports/${props.report}/thumbnail`, undefined, signal),
  enabled: useTurn(seen),
  staleTime: Infinity,
});
watch(data, (now) => (title.value = now?.title), { immediate: true });
</script>

<template>
  <span ref="box" class="thumbnail" aria-hidden="true" inert>
    <span v-if="!data" class="outline"
      ><i /><i /><i /><small>{{ contents }}</small></span
    >
    <span v-else class="page">
      <span class="serif title">{{ data.title }}</span>
      <span class="parts">
        <span v-for="(part, index) in data.parts" :key="index" :style="{ gridColumn: `span ${part.width}` }">
          <span v-if="part.figures" class="figures">
            <span v-for="figure in part.figures" :key="figure.label">
              <small>{{ figure.label }}</small>
              <span class="serif value">{{ figure.value }} <BearingNeedle :state="figure.state" :size="22" /></span>
            </span>
          </span>
          <span v-if="part.table || part.chart" class="serif heading">{{ part.title }}</span>
          <ChartSketch v-if="part.chart" :sketch="part.chart" />
          <table v-if="part.table">
            <thead>
              <tr>
                <th />
                <th v-for="(column, at) in part.table.columns" :key="at">{{ column }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(line, at) in part.table.lines" :key="at" :class="{ strong: line.strong }">
                <th :style="{ paddingLeft: `${line.depth * 16}px` }">{{ line.label }}</th>
                <td v-for="(cell, column) in line.cells" :key="column">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
          <span v-if="part.text" class="words">{{ part.text }}</span>
          <img v-if="part.picture" :src="pictureAddress(report, part.picture)" alt="" />
        </span>
      </span>
    </span>
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
.outline {
  display: grid;
  gap: 7px;
  padding: 12px;
}
.outline i {
  height: 7px;
  background: var(--rule-2);
}
.outline i:first-child {
  width: 60%;
  height: 11px;
}
.outline small {
  font-size: 12px;
  line-height: 1.3;
  color: var(--ink-2);
}
.page {
  position: absolute;
  top: 0;
  left: 0;
  width: 840px;
  height: 525px;
  padding: 22px 30px;
  overflow: hidden;
  transform: scale(0.2);
  transform-origin: 0 0;
  color: var(--ink);
}
.title {
  display: block;
  font-size: 40px;
  line-height: 1.15;
  padding-bottom: 12px;
  border-bottom: 4px solid var(--brass-line);
  white-space: nowrap;
}
.parts {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  gap: 14px 22px;
  margin-top: 14px;
}
.parts > span {
  overflow: hidden;
}
.figures {
  display: flex;
  gap: 22px;
  overflow: hidden;
}
.figures > span {
  flex: 1 0 auto;
  border-left: 2px solid var(--rule);
  padding-left: 12px;
}
.figures small {
  display: block;
  font-size: 17px;
  color: var(--ink-2);
}
.value {
  font-size: 30px;
  white-space: nowrap;
}
.heading {
  display: block;
  font-size: 25px;
  border-bottom: 3px solid var(--ink);
  white-space: nowrap;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 18px;
  line-height: 1.35;
}
th {
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
}
td,
thead th {
  padding-left: 14px;
  text-align: right;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule-2);
}
thead th {
  color: var(--ink-2);
}
.strong {
  font-weight: 700;
}
.strong th {
  font-weight: 700;
}
.words {
  display: block;
  font-size: 19px;
  white-space: pre-line;
}
img {
  max-width: 100%;
  max-height: 300px;
}
</style>
