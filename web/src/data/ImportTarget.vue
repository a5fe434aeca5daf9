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
            .map(({ name, label: words }) => ({ value: `key ${name}`, words: `${dimension.label}, kept per ${words.toLowerCase()}` }))
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
  <fieldset class="target">
    <legend>Import as</legend>
    <div class="line">
      <select v-model="kind" class="choice" aria-label="Import as">
        <option value="dataset">New dataset</option>
        <option value="fact">Fact of a dataset</option>
        <option value="later" :disabled="files.length === 0">Later file of a source</option>
      </select>
      <template v-if="kind === 'dataset'">
        <label>Name <input v-model="label" class="entry" maxlength="80" aria-label="Name of the dataset" /></label>
      </template>
      <template v-else-if="kind === 'fact'">
        <select v-model="dataset" class="choice" aria-label="Dataset">
          <option value="" disabled>Choose a dataset</option>
          <option v-for="one in datasets" :key="one.name" :value="one.name">{{ one.label }}</option>
        </select>
        <label>Name <input v-model="label" class="entry" maxlength="60" aria-label="Name of the fact" /></label>
      </template>
      <template v-else>
        <select v-model="source" class="choice" aria-label="Source">
          <option value="" disabled>Choose a source</option>
          <option v-for="one in files" :key="one.id" :value="one.id">{{ one.label }}</option>
        </select>
        <select v-model="how" class="choice" aria-label="Change">
          <option value="append">Append</option>
          <option value="update" :disabled="!chosenSource?.key.length">Update by key</option>
          <option value="replace">Replace all</option>
        </select>
      </template>
      <slot :target="target" />
    </div>
    <ul v-if="kind === 'fact' && model" class="bindings" aria-label="Columns that name members">
      <li v-for="{ column, index } in included" :key="index">
        <label>
          <span>{{ column.name }}</span>
          <select
            class="choice"
            :value="bound[index] ?? ''"
            :aria-label="`${column.name} is bound to`"
            @change="bound = { ...bound, [index]: ($event.target as HTMLSelectElement).value }"
          >
            <option value="">Field of its own</option>
            <option v-for="level in levels(model.dataset, column)" :key="level.value" :value="level.value">
              Member of {{ level.words }}
            </option>
          </select>
        </label>
      </li>
    </ul>
  </fieldset>
</template>

<style scoped>
.target {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-size: 13px;
  color: var(--ink-2);
  padding: 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.entry {
  width: 210px;
}
.bindings {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 4px 20px;
}
.bindings label {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
}
</style>
