<script setup lang="ts">
import type { QueryCheck } from '@bold-compass/core/api';
import type { QueryParameter } from '@bold-compass/core/model';
import DateField from '../shell/DateField.vue';

/** The values of a query's parameters; where records are live, prompts can fill them. */
const props = defineProps<{ parameters: readonly QueryParameter[]; live: boolean; columns: QueryCheck['columns'] }>();
const emit = defineEmits<{ change: [parameters: QueryParameter[]] }>();
const set = (name: string, part: Partial<QueryParameter>): void =>
  emit(
    'change',
    props.parameters.map((parameter) => (parameter.name === name ? { ...parameter, ...part } : parameter)),
  );
const TYPES: { value: QueryParameter['type']; title: string }[] = [
  { value: 'any', title: 'Automatic' },
  { value: 'text', title: 'Text' },
  { value: 'number', title: 'Number' },
  { value: 'date', title: 'Date' },
];
</script>

<template>
  <section class="parameters" aria-labelledby="parameters-heading">
    <h2 id="parameters-heading" class="part">Parameters</h2>
    <div v-for="parameter in parameters" :key="parameter.name" class="parameter" role="group" :aria-label="parameter.name">
      <code>:{{ parameter.name }}</code>
      <v-select label="Type" :model-value="parameter.type" :items="TYPES" @update:model-value="set(parameter.name, { type: $event })" />
      <DateField
        v-if="parameter.type === 'date'"
        label="Value"
        :model-value="parameter.value"
        @update:model-value="set(parameter.name, { value: $event })"
      />
      <v-text-field
        v-else
        label="Value"
        :model-value="parameter.value"
        @change="set(parameter.name, { value: ($event.target as HTMLInputElement).value })"
      />
      <v-select
        v-if="live"
        label="Filled by the prompt on"
        :model-value="parameter.filledBy ?? ''"
        :items="[{ value: '', title: 'None' }, ...columns.map(({ name }) => ({ value: name, title: name }))]"
        @update:model-value="set(parameter.name, { filledBy: $event || undefined })"
      />
    </div>
    <p v-if="live" class="muted">
      A prompt of the same name fills a parameter too; of a prompt for dates, periods or a range <code>name_from</code> and
      <code>name_to</code>.
    </p>
  </section>
</template>

<style scoped>
.parameters {
  margin-top: 12px;
}
.parameter {
  display: grid;
  grid-template-columns: minmax(90px, auto) repeat(3, minmax(0, 1fr));
  gap: 10px;
  align-items: end;
  margin-top: 6px;
}
code {
  padding-bottom: 6px;
}
</style>
