<script setup lang="ts">
import type { ImportView } from '@bold-compass/core/api';
import type { Reading } from '@bold-compass/core/imports';
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
const FORMATS = { delimited: 'Delimited text', spreadsheet: 'Spreadsheet', json: 'JSON records' };
</script>

<template>
  <section class="reading" aria-label="File format">
    <h2>File format</h2>
    <p class="muted">{{ FORMATS[reading.format] }}, {{ size }}. Change what is not right.</p>
    <label v-if="reading.format === 'delimited'">
      Delimiter
      <select
        class="choice"
        :value="reading.delimiter"
        @change="change({ delimiter: ($event.target as HTMLSelectElement).value as Reading['delimiter'] })"
      >
        <option value=",">Comma</option>
        <option value=";">Semicolon</option>
        <option value="&#9;">Tab</option>
        <option value="|">Bar</option>
      </select>
    </label>
    <label v-if="reading.format !== 'spreadsheet'">
      Encoding
      <select
        class="choice"
        :value="reading.encoding"
        @change="change({ encoding: ($event.target as HTMLSelectElement).value as Reading['encoding'] })"
      >
        <option value="utf-8">UTF-8</option>
        <option value="windows-1252">Latin-1 (Windows-1252)</option>
        <option value="utf-16le">UTF-16, little end first</option>
        <option value="utf-16be">UTF-16, big end first</option>
      </select>
    </label>
    <label v-if="reading.format === 'spreadsheet'">
      Sheet
      <select class="choice" :value="reading.sheet" @change="change({ sheet: ($event.target as HTMLSelectElement).value })">
        <option v-for="sheet in view.sheets" :key="sheet" :value="sheet">{{ sheet }}</option>
      </select>
    </label>
    <label v-if="reading.format !== 'json'">
      Header row
      <select class="choice" :value="reading.headerRow" @change="change({ headerRow: Number(($event.target as HTMLSelectElement).value) })">
        <option :value="0">no row: there are none</option>
        <option v-for="row in Math.max(10, reading.headerRow)" :key="row" :value="row">row {{ row }}</option>
      </select>
    </label>
    <label>
      Decimal separator
      <select
        class="choice"
        :value="reading.decimalSign"
        @change="change({ decimalSign: ($event.target as HTMLSelectElement).value as '.' | ',' })"
      >
        <option value=".">a point: 1,234.5</option>
        <option value=",">a comma: 1.234,5</option>
      </select>
    </label>
    <label>
      Date format
      <select
        class="choice"
        :value="reading.dateOrder"
        @change="change({ dateOrder: ($event.target as HTMLSelectElement).value as Reading['dateOrder'] })"
      >
        <option value="ymd">year, month, day</option>
        <option value="dmy">day, month, year</option>
        <option value="mdy">month, day, year</option>
      </select>
    </label>
    <form @submit.prevent="addWord">
      <label>
        Missing-value marker
        <span class="with-button">
          <input v-model="word" class="entry" maxlength="30" placeholder="missing" />
          <button class="button" type="submit" :disabled="word.trim() === ''">Add</button>
        </span>
      </label>
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
label {
  display: block;
  font-size: 13px;
  color: var(--ink-2);
}
select,
.with-button {
  display: flex;
  width: 100%;
  margin-top: 2px;
  gap: 6px;
}
.entry {
  min-width: 0;
  flex: 1;
}
.small {
  font-size: 12.5px;
  margin-top: 4px;
}
</style>
