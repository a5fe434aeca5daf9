<script setup lang="ts">
import { aggregateOf, EXCHANGEABLE, withAggregate } from '@bold-compass/core/crosstab';
import { AGGREGATES, type Dataset, type Measure, type NumberFormat } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { computed } from 'vue';
import { measureFault } from './definition-edits.ts';

/** The chosen measure: its label, formula and looks. */
const props = defineProps<{ measure: Measure; dataset: Dataset }>();
const emit = defineEmits<{ change: [part: Partial<Measure>]; duplicate: []; remove: []; close: [] }>();
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
const fault = computed(() => measureFault(props.dataset, props.measure));
const aggregation = computed(() => aggregateOf(props.measure.formula));
const setFormat = (part: Partial<NumberFormat>): void => emit('change', { format: { ...props.measure.format, ...part } });
const isScaled = computed(() => props.measure.format.kind === 'number' || props.measure.format.kind === 'currency');
</script>

<template>
  <v-navigation-drawer permanent tag="aside" location="right" class="editor" :width="310" :aria-label="`Settings of ${measure.label}`">
    <v-btn class="close" :icon="mdiClose" variant="text" size="small" aria-label="Close" @click="emit('close')" />
    <div>
      <p class="kind">
        Measure · <code>{{ measure.name }}</code>
      </p>
      <h2>{{ measure.label }}</h2>
    </div>
    <v-text-field
      label="Label"
      maxlength="80"
      :model-value="measure.label"
      @change="emit('change', { label: textOf($event) || measure.label })"
    />
    <v-textarea
      class="formula"
      label="Formula"
      rows="2"
      spellcheck="false"
      :model-value="measure.formula"
      :error-messages="fault || undefined"
      @change="textOf($event) && emit('change', { formula: textOf($event) })"
    />
    <v-select
      v-if="aggregation"
      label="Aggregation"
      :model-value="aggregation"
      :items="EXCHANGEABLE.map((value) => ({ value, title: AGGREGATES[value].label }))"
      @update:model-value="emit('change', { formula: withAggregate(measure.formula, $event) })"
    />
    <v-select
      label="Fact"
      hint="The records of aggregates that could be of any, such as count()"
      :model-value="measure.fact ?? ''"
      :items="[{ value: '', title: 'None' }, ...dataset.facts.map((fact) => ({ value: fact.name, title: fact.label }))]"
      @update:model-value="emit('change', { fact: $event || undefined })"
    />
    <div class="two">
      <v-select
        label="Format"
        :model-value="measure.format.kind"
        :items="[
          { value: 'number', title: 'Number' },
          { value: 'currency', title: 'Currency' },
          { value: 'percent', title: 'Percent' },
          { value: 'duration', title: 'Duration' },
        ]"
        @update:model-value="
          setFormat($event === 'currency' ? { kind: $event, currency: measure.format.currency ?? 'EUR' } : { kind: $event })
        "
      />
      <v-select
        v-if="isScaled"
        label="Unit"
        :model-value="measure.format.unit"
        :items="[
          { value: 'one', title: 'Ones' },
          { value: 'thousand', title: 'Thousands' },
          { value: 'million', title: 'Millions' },
        ]"
        @update:model-value="setFormat({ unit: $event })"
      />
      <v-select
        v-if="measure.format.kind !== 'duration'"
        label="Decimal places"
        :model-value="measure.format.decimals"
        :items="[0, 1, 2, 3, 4]"
        @update:model-value="setFormat({ decimals: $event })"
      />
      <v-select
        label="Better is"
        :model-value="measure.direction"
        :items="[
          { value: 'higher', title: 'Higher' },
          { value: 'lower', title: 'Lower' },
        ]"
        @update:model-value="emit('change', { direction: $event })"
      />
    </div>
    <v-textarea
      label="Description"
      rows="2"
      :model-value="measure.description ?? ''"
      @change="emit('change', { description: textOf($event) || undefined })"
    />
    <v-text-field
      label="Folder"
      maxlength="60"
      :model-value="measure.folder ?? ''"
      @change="emit('change', { folder: textOf($event) || undefined })"
    />
    <v-switch
      label="Offer in the field drawer"
      :model-value="!measure.hidden"
      @update:model-value="emit('change', { hidden: $event ? undefined : true })"
    />
    <div class="actions">
      <v-btn @click="emit('duplicate')">Duplicate</v-btn>
      <v-btn variant="text" color="error" @click="emit('remove')">Remove</v-btn>
    </div>
  </v-navigation-drawer>
</template>

<style scoped>
.editor :deep(.v-navigation-drawer__content) {
  display: grid;
  align-content: start;
  gap: 12px;
  padding: 18px 18px 60px;
  position: relative;
}
.close {
  position: absolute;
  top: 10px;
  right: 10px;
}
.kind {
  font-size: 12.5px;
  color: var(--ink-2);
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.actions {
  display: flex;
  gap: 10px;
  border-top: 1px solid var(--rule-2);
  padding-top: 12px;
}
code,
.formula :deep(textarea) {
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
}
</style>
