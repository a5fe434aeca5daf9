<script setup lang="ts">
import type { Dataset, Field } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { computed } from 'vue';
import { TYPE_NAMES } from '../data/type-names.ts';
import { fieldFault, type FieldEntry } from './definition-edits.ts';

/** The chosen field: what it is called and where it is offered; of a calculated one its formula too. */
const props = defineProps<{ entry: FieldEntry; dataset: Dataset }>();
const emit = defineEmits<{ change: [part: Partial<Field>]; remove: []; close: [] }>();
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
const field = computed(() => props.entry.field);
const fault = computed(() => fieldFault(props.dataset, props.entry));
</script>

<template>
  <v-navigation-drawer permanent tag="aside" location="right" class="editor" :width="310" :aria-label="`Settings of ${field.label}`">
    <v-btn class="close" :icon="mdiClose" variant="text" size="small" aria-label="Close" @click="emit('close')" />
    <div>
      <p class="kind">
        Field of {{ entry.ownerLabel }} · <code>{{ field.name }}</code> · {{ TYPE_NAMES[field.type] }}
      </p>
      <h2>{{ field.label }}</h2>
    </div>
    <v-text-field
      label="Label"
      maxlength="80"
      :model-value="field.label"
      @change="emit('change', { label: textOf($event) || field.label })"
    />
    <template v-if="field.formula">
      <v-textarea
        class="formula"
        label="Formula"
        rows="2"
        spellcheck="false"
        :model-value="field.formula"
        :error-messages="fault || undefined"
        @change="textOf($event) && emit('change', { formula: textOf($event) })"
      />
      <v-select
        label="Decimal places"
        :model-value="field.scale"
        :items="[0, 1, 2, 3, 4, 5, 6]"
        @update:model-value="emit('change', { scale: $event })"
      />
    </template>
    <v-textarea
      label="Description"
      rows="2"
      :model-value="field.description ?? ''"
      @change="emit('change', { description: textOf($event) || undefined })"
    />
    <v-text-field
      label="Folder"
      maxlength="60"
      :model-value="field.folder ?? ''"
      @change="emit('change', { folder: textOf($event) || undefined })"
    />
    <v-switch
      label="Offer in the field drawer"
      :model-value="!field.hidden"
      @update:model-value="emit('change', { hidden: $event ? undefined : true })"
    />
    <div v-if="field.formula" class="actions">
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
