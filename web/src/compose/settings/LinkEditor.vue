<script setup lang="ts">
import type { ReportSummary } from '@bold-compass/core/api';
import {
  fieldLabel,
  findField,
  linkKind,
  webAddressSchema,
  type Dataset,
  type ExhibitLink,
  type LinkKind,
  type Report,
} from '@bold-compass/core/model';
import { computed } from 'vue';

/** Where a link leads, how it opens, and what it carries along. */
const props = defineProps<{
  link: ExhibitLink;
  report: Report;
  reports: readonly ReportSummary[];
  dataset: Dataset;
  /** Fields that it can carry along. */
  fields: readonly string[];
  /** Whether there are records behind the place that it stands at. */
  records: boolean;
}>();
const emit = defineEmits<{ change: [link: ExhibitLink]; remove: [] }>();
const set = (part: Partial<ExhibitLink>): void => emit('change', { ...props.link, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();

const kind = computed(() => linkKind(props.link));
const others = computed(() => props.reports.filter(({ id }) => id !== props.report.id).map(({ id, title }) => ({ value: id, title })));
const KINDS = computed(() => [
  { value: 'report', title: 'Report' },
  ...(props.report.pages.length > 1 ? [{ value: 'page', title: 'Page of this report' }] : []),
  ...(props.records ? [{ value: 'records', title: 'Records' }] : []),
  { value: 'address', title: 'Web address' },
]);
function setKind(next: LinkKind): void {
  const none = { report: undefined, page: undefined, records: undefined, address: undefined };
  if (next === 'report') set({ ...none, report: others.value[0]?.value });
  else if (next === 'page') set({ ...none, page: props.report.pages[1]?.id });
  else if (next === 'records') set({ ...none, records: true });
  else set({ ...none, address: 'https://example.com/?country={country}' });
}
/** A link to what is not there any more says so here, before a reader finds out. */
const broken = computed(() => {
  const { report, page } = props.link;
  if (kind.value === 'report' && props.reports.length > 0 && !props.reports.some(({ id }) => id === report))
    return 'This report is not there any more.';
  if (kind.value === 'page' && !props.report.pages.some(({ id }) => id === page)) return 'This page is not there any more.';
  return kind.value === null ? 'Choose where it leads.' : '';
});
const addressFault = (text: string): string | true => webAddressSchema.safeParse(text).error?.issues[0].message ?? true;
function setAddress(text: string): void {
  if (addressFault(text) === true) set({ address: text });
}

const NOT_CARRIED = '"';
const labelOf = (field: string): string => (findField(props.dataset, field) ? fieldLabel(props.dataset, field) : field);
const targets = computed(() => [
  { value: NOT_CARRIED, title: 'Not passed' },
  ...props.dataset.dimensions.flatMap(({ levels }) => [...levels].map(({ name, label }) => ({ value: name, title: label }))),
]);
const goesAs = (field: string): string => (props.link.drop?.includes(field) ? NOT_CARRIED : (props.link.pairs?.[field] ?? field));
function setPair(field: string, value: string): void {
  const drop = (props.link.drop ?? []).filter((one) => one !== field);
  const pairs = Object.fromEntries(Object.entries(props.link.pairs ?? {}).filter(([own]) => own !== field));
  if (value === NOT_CARRIED) drop.push(field);
  else if (value !== field) pairs[field] = value;
  set({ drop: drop.length > 0 ? drop : undefined, pairs: Object.keys(pairs).length > 0 ? pairs : undefined });
}
</script>

<template>
  <fieldset class="link">
    <legend class="visually-hidden">Link {{ link.label }}</legend>
    <v-text-field label="Label" maxlength="120" :model-value="link.label" @change="set({ label: valueOf($event) || link.label })" />
    <v-select label="Target" :model-value="kind" :items="KINDS" @update:model-value="$event && setKind($event)" />
    <v-autocomplete
      v-if="kind === 'report'"
      label="Report"
      :model-value="link.report"
      :items="others"
      @update:model-value="set({ report: $event ?? undefined })"
    />
    <v-select
      v-if="kind === 'page'"
      label="Page"
      :model-value="link.page"
      :items="report.pages.map(({ id, title }) => ({ value: id, title }))"
      @update:model-value="set({ page: $event ?? undefined })"
    />
    <v-text-field
      v-if="kind === 'address'"
      label="Web address"
      hint="Values in braces: {country}, {value}, {measure}"
      persistent-hint
      :rules="[addressFault]"
      :model-value="link.address"
      @change="setAddress(valueOf($event))"
    />
    <v-select
      v-if="kind === 'report'"
      label="Opens"
      :model-value="link.opens ?? 'here'"
      :items="[
        { value: 'here', title: 'Same tab' },
        { value: 'beside', title: 'Side sheet' },
        { value: 'tab', title: 'New tab' },
      ]"
      @update:model-value="set({ opens: $event === 'here' ? undefined : $event })"
    />
    <p v-if="kind === 'report'" class="muted carried">
      Passes on the filters of the figure. Defaults of prompts there are left off, unless they are required.
    </p>
    <slot />
    <template v-if="kind === 'report' && fields.length > 0">
      <p class="muted carried">Parameters</p>
      <v-autocomplete
        v-for="field in fields"
        :key="field"
        :label="labelOf(field)"
        :model-value="goesAs(field)"
        :items="targets"
        @update:model-value="$event && setPair(field, $event)"
      />
    </template>
    <p v-if="broken" class="problem" role="alert">{{ broken }}</p>
    <v-btn variant="plain" class="inline" @click="emit('remove')">Remove link</v-btn>
  </fieldset>
</template>

<style scoped>
.link {
  display: grid;
  gap: 8px;
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  padding: 0 0 10px;
  margin: 0;
  min-width: 0;
}
.link .inline {
  justify-self: start;
}
.carried {
  margin: 2px 0 0;
  font-size: 12.5px;
}
.problem {
  margin: 0;
  color: var(--off-text);
  font-size: 13px;
}
</style>
