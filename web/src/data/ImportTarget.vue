<script setup lang="ts">
import { sourceViewSchema, type Binding, type ImportTarget } from '@bold-compass/core/api';
import type { ImportColumn } from '@bold-compass/core/imports';
import { datasetSchema, type Dataset } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';

/** What the file becomes: a dataset, another fact of one, or Later file of a source already. */
const props = defineProps<{ columns: ImportColumn[]; fileName: string }>();
const emit = defineEmits<{ change: [target: ImportTarget | null] }>();

type Kind = 'dataset' | 'fact' | 'later';
const kind = ref<Kind>('dataset');
const label = ref(
  props.fileName
    .replace(/\.[a-z0-9]+$/i, '')
    .replaceAll(/[-_]+/g, ' ')
    .trim(),
);
const dataset = ref('');
const source = ref('');
const how = ref<'replace' | 'append' | 'update'>('append');
const bound = ref<Record<number, string>>({});

const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: ({ signal }) => ask(z.array(sourceViewSchema), 'GET', '/sources', undefined, signal),
});
const { data: datasets } = useQuery({
  queryKey: ['dataset-names'],
  queryFn: ({ signal }) => ask(z.array(z.object({ name: z.string(), label: z.string() })), 'GET', '/datasets', undefined, signal),
});
const { data: model } = useQuery({
  queryKey: computed(() => ['dataset', dataset.value]),
  queryFn: ({ signal }) => ask(z.object({ dataset: datasetSchema }), 'GET', `/datasets/${dataset.value}`, undefined, signal),
  enabled: computed(() => kind.value === 'fact' && dataset.value !== ''),
});
const files = computed(() => sources.value?.filter(({ origin }) => origin.kind === 'file') ?? []);
const chosenSource = computed(() => files.value.find(({ id }) => id === source.value));

interface Level {
  value: string;
  words: string;
}
/** Members a column can name: by the level's key, and by its label where that is another column. */
const levels = (of: Dataset, column: ImportColumn): Level[] =>
  of.dimensions.flatMap((dimension) =>
    dimension.kind === 'calendar'
      ? column.type === 'date' || column.type === 'datetime'
        ? dimension.levels
            .filter(({ period }) => ['day', 'month', 'quarter', 'year'].includes(period))
            .map(({ name, label: words }) => ({ value: `key ${name}`, words: `${dimension.label} by ${words.toLowerCase()}` }))
        : []
      : dimension.levels.flatMap(({ name, label: words, labelColumn }) => [
          { value: `key ${name}`, words: labelColumn ? `${words}, by key` : words },
          ...(labelColumn ? [{ value: `label ${name}`, words: `${words}, by label` }] : []),
        ]),
  );

const included = computed(() => props.columns.map((column, index) => ({ column, index })).filter(({ column }) => column.include));
// A column that is called as a level is, is offered bound to it; the analyst sees and can change it.
watch(model, (now) => {
  if (!now) return;
  bound.value = Object.fromEntries(
    included.value.flatMap(({ column, index }) => {
      const options = levels(now.dataset, column);
      const [day] = options.filter(({ words }) => words.endsWith('per day'));
      const same = options.find(({ words }) => words.toLowerCase().replace(/, by (key|label)$/, '') === column.name.toLowerCase());
      return same ? [[index, same.value]] : day && (column.type === 'date' || column.type === 'datetime') ? [[index, day.value]] : [];
    }),
  );
});
const bindings = computed((): Binding[] =>
  Object.entries(bound.value).flatMap(([index, value]) => {
    const gap = value.indexOf(' ');
    return value === '' ? [] : [{ column: Number(index), by: value.slice(0, gap) as Binding['by'], level: value.slice(gap + 1) }];
  }),
);

const target = computed((): ImportTarget | null => {
  const called = label.value.trim();
  if (kind.value === 'later') return source.value === '' ? null : { kind: how.value, source: source.value };
  if (called === '') return null;
  if (kind.value === 'dataset') return { kind: 'dataset', label: called };
  return dataset.value === '' || !model.value ? null : { kind: 'fact', dataset: dataset.value, label: called, bindings: bindings.value };
});
watch(target, (now) => emit('change', now), { immediate: true });
</script>

<template>
  <section class="target" aria-labelledby="import-as">
    <h2 id="import-as">Import as</h2>
    <div class="line">
      <v-select
        v-model="kind"
        aria-label="Import as"
        :items="[
          { value: 'dataset', title: 'New dataset' },
          { value: 'fact', title: 'Fact of a dataset' },
          { value: 'later', title: 'Later file of a source', props: { disabled: files.length === 0 } },
        ]"
      />
      <template v-if="kind === 'dataset'">
        <v-text-field v-model="label" label="Name" maxlength="80" />
      </template>
      <template v-else-if="kind === 'fact'">
        <v-select
          v-model="dataset"
          label="Dataset"
          :items="[
            { value: '', title: 'Choose a dataset', props: { disabled: true } },
            ...(datasets ?? []).map((one) => ({ value: one.name, title: one.label })),
          ]"
        />
        <v-text-field v-model="label" label="Name" maxlength="60" />
      </template>
      <template v-else>
        <v-select
          v-model="source"
          label="Source"
          :items="[
            { value: '', title: 'Choose a source', props: { disabled: true } },
            ...files.map((one) => ({ value: one.id, title: one.label })),
          ]"
        />
        <v-select
          v-model="how"
          label="Change"
          :items="[
            { value: 'append', title: 'Append' },
            { value: 'update', title: 'Update by key', props: { disabled: !chosenSource?.key.length } },
            { value: 'replace', title: 'Replace all' },
          ]"
        />
      </template>
    </div>
    <ul v-if="kind === 'fact' && model" class="bindings" aria-label="Columns that name members">
      <li v-for="{ column, index } in included" :key="index">
        <v-select
          :label="column.name"
          :model-value="bound[index] ?? ''"
          :items="[
            { value: '', title: 'Field of its own' },
            ...levels(model.dataset, column).map((level) => ({ value: level.value, title: `Member of ${level.words}` })),
          ]"
          @update:model-value="bound = { ...bound, [index]: $event }"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.line {
  display: grid;
  gap: 10px;
  margin-top: 6px;
}
.bindings {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  display: grid;
  gap: 8px;
}
</style>
