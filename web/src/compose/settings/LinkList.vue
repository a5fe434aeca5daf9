<script setup lang="ts" generic="Own extends ExhibitLink">
import { reportSummarySchema } from '@bold-compass/core/api';
import type { Dataset, ExhibitLink, Report } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { z } from 'zod';
import { ask } from '../../api/client.ts';
import AddChoice from '../../shell/AddChoice.vue';
import LinkEditor from './LinkEditor.vue';

/** The links of an exhibit, one below the other: the first is the one that a click follows. */
const props = defineProps<{
  links: readonly Own[];
  report: Report;
  dataset: Dataset;
  fields: readonly string[];
  records: boolean;
  /** How many there may be. */
  most: number;
}>();
const emit = defineEmits<{ change: [links: Own[]] }>();
const { data: reports } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
});
const RECORDS = '"records';
const ADDRESS = '"address';
const offered = computed(() => [
  ...(props.records ? [{ value: RECORDS, title: 'The records' }] : []),
  { value: ADDRESS, title: 'A web address' },
  ...props.report.pages.slice(1).map(({ id, title }) => ({ value: `page ${id}`, title: `Page ${title}` })),
  ...(reports.value ?? []).filter(({ id }) => id !== props.report.id).map(({ id, title }) => ({ value: id, title })),
]);
function made(value: string): ExhibitLink {
  if (value === RECORDS) return { label: 'Records', records: true };
  if (value === ADDRESS) return { label: 'Web address', address: 'https://example.com/' };
  const label = offered.value.find((one) => one.value === value)?.title ?? value;
  return value.startsWith('page ') ? { label, page: value.slice(5) } : { label, report: value };
}
const add = (value: string): void => emit('change', [...props.links, made(value) as Own]);
const set = (index: number, link: ExhibitLink): void =>
  emit(
    'change',
    props.links.map((one, at) => (at === index ? ({ ...one, ...link } as Own) : one)),
  );
const remove = (index: number): void =>
  emit(
    'change',
    props.links.filter((_, at) => at !== index),
  );
</script>

<template>
  <LinkEditor
    v-for="(link, index) in links"
    :key="index"
    :link="link"
    :report="report"
    :reports="reports ?? []"
    :dataset="dataset"
    :fields="fields"
    :records="records"
    @change="set(index, $event)"
    @remove="remove(index)"
  >
    <slot :link="link" :set="(part: Partial<Own>) => set(index, part as ExhibitLink)" />
  </LinkEditor>
  <AddChoice v-if="links.length < most" label="Add link" :items="offered" @add="add" />
</template>
