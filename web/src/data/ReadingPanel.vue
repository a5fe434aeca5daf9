<script setup lang="ts">
import type { ImportView } from '@bold-compass/core/api';
import { importFormat, type Reading } from '@bold-compass/core/imports';
import { computed, ref } from 'vue';

/** How the file is read: what was found in it, each part changeable. */
const props = defineProps<{ view: ImportView; reading: Reading }>();
const emit = defineEmits<{ change: [reading: Reading] }>();

const change = (part: Partial<Reading>): void => emit('change', { ...props.reading, ...part });
const own = computed(() => props.reading.emptyWords);
const word = ref('');
function addWord(): void {
  const text = word.value.trim();
  if (text !== '' && !own.value.includes(text)) change({ emptyWords: [...own.value, text] });
  word.value = '';
}
const size = computed(() => {
  const kilobytes = props.view.bytes / 1024;
  return kilobytes < 1024 ? `${Math.max(1, Math.round(kilobytes))} kB` : `${(kilobytes / 1024).toFixed(1)} MB`;
});
const format = computed(() => importFormat(props.reading.format));
</script>

<template>
  <section class="reading" aria-label="File format">
    <h2>File format</h2>
    <p class="muted">{{ format.label }}, {{ size }}. Change what is not right.</p>
    <v-select
      v-if="format.settings.includes('delimiter')"
      label="Delimiter"
      :model-value="reading.delimiter"
      :items="[
        { value: ',', title: 'Comma' },
        { value: ';', title: 'Semicolon' },
        { value: '\t', title: 'Tab' },
        { value: '|', title: 'Bar' },
      ]"
      @update:model-value="change({ delimiter: $event as Reading['delimiter'] })"
    />
    <v-select
      v-if="format.settings.includes('encoding')"
      label="Encoding"
      :model-value="reading.encoding"
      :items="[
        { value: 'utf-8', title: 'UTF-8' },
        { value: 'windows-1252', title: 'Latin-1 (Windows-1252)' },
        { value: 'utf-16le', title: 'UTF-16, little end first' },
        { value: 'utf-16be', title: 'UTF-16, big end first' },
      ]"
      @update:model-value="change({ encoding: $event as Reading['encoding'] })"
    />
    <v-select
      v-if="format.settings.includes('sheet')"
      label="Sheet"
      :model-value="reading.sheet"
      :items="view.sheets.map((sheet) => ({ value: sheet, title: sheet }))"
      @update:model-value="change({ sheet: $event })"
    />
    <v-select
      v-if="format.settings.includes('headerRow')"
      label="Header row"
      :model-value="reading.headerRow"
      :items="[
        { value: 0, title: 'None' },
        ...Array.from({ length: Math.max(10, reading.headerRow) }, (_, index) => index + 1).map((row) => ({
          value: row,
          title: `Row ${row}`,
        })),
      ]"
      @update:model-value="change({ headerRow: $event })"
    />
    <v-select
      label="Decimal separator"
      :model-value="reading.decimalSign"
      :items="[
        { value: '.', title: 'Point: 1,234.5' },
        { value: ',', title: 'Comma: 1.234,5' },
      ]"
      @update:model-value="change({ decimalSign: $event as '.' | ',' })"
    />
    <v-select
      label="Date format"
      :model-value="reading.dateOrder"
      :items="[
        { value: 'ymd', title: 'Year, month, day' },
        { value: 'dmy', title: 'Day, month, year' },
        { value: 'mdy', title: 'Month, day, year' },
      ]"
      @update:model-value="change({ dateOrder: $event as Reading['dateOrder'] })"
    />
    <form @submit.prevent="addWord">
      <v-text-field v-model="word" label="Missing-value marker" maxlength="30" placeholder="missing">
        <template #append><v-btn type="submit" :disabled="word.trim() === ''">Add</v-btn></template>
      </v-text-field>
      <p class="muted small">
        Empty cells always are. {{ own.slice(0, 5).join(', ') }} and {{ own.length - 5 }} more are known; each column says which of them it
        takes so.
      </p>
    </form>
  </section>
</template>

<style scoped>
.reading {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.small {
  font-size: 12.5px;
  margin-top: 4px;
}
</style>
