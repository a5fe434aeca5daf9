<script setup lang="ts">
import { isDataExhibit, type Exhibit } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { computed } from 'vue';
import { useCompose } from './context.ts';
import CellSettings from './settings/CellSettings.vue';
import CrosstabSettings from './settings/CrosstabSettings.vue';
import KpiSettings from './settings/KpiSettings.vue';
import LevelSettings from './settings/LevelSettings.vue';
import ListSettings from './settings/ListSettings.vue';
import ReportSettings from './settings/ReportSettings.vue';
import SettingsSection from './settings/SettingsSection.vue';
import WordsSettings from './settings/WordsSettings.vue';

/** The settings of what is chosen: a tag, an exhibit, or the report. */
const { report, selection, selected, change, setReport } = useCompose();
const KINDS: Record<Exhibit['kind'], string> = {
  crosstab: 'Cross-tab',
  list: 'List',
  kpis: 'KPI strip',
  text: 'Text',
  image: 'Picture',
  divider: 'Divider',
};
const part = computed(() => selection.value?.part);
const cell = computed(() => {
  const { value: exhibit } = selected;
  return exhibit?.kind === 'crosstab' && part.value?.kind === 'cell' && exhibit.cells[part.value.index]
    ? { exhibit, index: part.value.index }
    : null;
});
const level = computed(() => {
  const { value: exhibit } = selected;
  if (exhibit?.kind !== 'crosstab' || part.value?.kind !== 'level') return null;
  const { edge, field } = part.value;
  return exhibit[edge].fields.includes(field) ? { exhibit, edge, field } : null;
});
const WIDTHS = [
  { value: 12, words: 'the whole page' },
  { value: 9, words: 'three quarters' },
  { value: 8, words: 'two thirds' },
  { value: 6, words: 'half' },
  { value: 4, words: 'a third' },
  { value: 3, words: 'a quarter' },
];
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
function setBase(base: { width?: number; height?: number; page?: string }): void {
  if (selected.value) change({ ...selected.value, ...base });
}
function setHeight(text: string): void {
  const height = Math.round(Number(text));
  setBase({ height: text.trim() === '' || !Number.isFinite(height) ? undefined : Math.max(120, Math.min(4_000, height)) });
}
function move(by: -1 | 1): void {
  const exhibits = [...report.value.exhibits];
  const at = exhibits.findIndex(({ id }) => id === selected.value?.id);
  if (at < 0 || at + by < 0 || at + by >= exhibits.length) return;
  const [one] = exhibits.splice(at, 1);
  exhibits.splice(at + by, 0, one);
  setReport({ ...report.value, exhibits });
}
</script>

<template>
  <aside class="margin settings" aria-label="Settings">
    <button
      v-if="selection"
      type="button"
      class="close"
      aria-label="Settings of the report"
      @click="selection = selection.part ? { exhibit: selection.exhibit } : null"
    >
      <v-icon :icon="mdiClose" size="18" />
    </button>
    <CellSettings v-if="cell" :key="`cell ${cell.exhibit.id} ${cell.index}`" v-bind="cell" />
    <LevelSettings v-else-if="level" :key="`level ${level.exhibit.id} ${level.field}`" v-bind="level" />
    <template v-else-if="selected">
      <p class="kind">{{ KINDS[selected.kind] }}</p>
      <template v-if="isDataExhibit(selected)">
        <label class="title"
          ><span class="visually-hidden">Title of the exhibit</span>
          <input
            class="entry"
            maxlength="200"
            :value="selected.title"
            @change="isDataExhibit(selected) && change({ ...selected, title: valueOf($event).trim() || selected.title })"
        /></label>
      </template>
      <CrosstabSettings v-if="selected.kind === 'crosstab'" :key="selected.id" :exhibit="selected" />
      <ListSettings v-else-if="selected.kind === 'list'" :key="selected.id" :exhibit="selected" />
      <KpiSettings v-else-if="selected.kind === 'kpis'" :key="selected.id" :exhibit="selected" />
      <WordsSettings v-else-if="selected.kind === 'text' || selected.kind === 'image'" :key="selected.id" :exhibit="selected" />
      <SettingsSection title="Position and size" :open="selected.kind === 'divider'">
        <label
          >Width
          <select class="choice" :value="selected.width" @change="setBase({ width: Number(valueOf($event)) })">
            <option v-for="one in WIDTHS" :key="one.value" :value="one.value">{{ one.words }}</option>
            <option v-if="!WIDTHS.some(({ value }) => value === selected!.width)" :value="selected.width">
              {{ selected.width }} of 12
            </option>
          </select>
        </label>
        <label
          >Height, in pixels
          <input
            class="entry"
            type="number"
            min="120"
            max="4000"
            step="10"
            placeholder="as needed"
            :value="selected.height ?? ''"
            @change="setHeight(valueOf($event))"
        /></label>
        <label v-if="report.pages.length > 1"
          >Page
          <select class="choice" :value="selected.page ?? report.pages[0].id" @change="setBase({ page: valueOf($event) })">
            <option v-for="page in report.pages" :key="page.id" :value="page.id">{{ page.title }}</option>
          </select>
        </label>
        <div class="actions-line">
          <button type="button" class="button" @click="move(-1)">Move up</button>
          <button type="button" class="button" @click="move(1)">Move down</button>
        </div>
      </SettingsSection>
      <SettingsSection v-if="isDataExhibit(selected)" title="Footnote">
        <textarea
          class="entry note"
          rows="3"
          maxlength="2000"
          aria-label="Note"
          :value="selected.note"
          @change="isDataExhibit(selected) && change({ ...selected, note: valueOf($event).trim() })"
        />
      </SettingsSection>
    </template>
    <ReportSettings v-else />
  </aside>
</template>

<style scoped>
.settings {
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  padding: 14px 16px 60px;
  position: sticky;
  top: 0;
  height: 100vh;
  overflow-y: auto;
}
.settings :deep(.kind) {
  margin: 0;
  font-size: 12.5px;
  color: var(--ink-2);
}
.settings :deep(h2) {
  margin: 0 0 6px;
}
.settings :deep(.actions-line) {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  margin-bottom: 4px;
}
.settings :deep(.actions-line .button) {
  padding: 2px 8px;
  min-height: 28px;
  font-size: 12.5px;
}
.settings :deep(.actions-line .link) {
  font-size: 13px;
}
.settings :deep(.formula) {
  margin: 0 0 4px;
  padding: 6px 10px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background: var(--paper);
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.settings :deep(.small) {
  font-size: 12.5px;
  margin: 0 0 8px;
}
.close {
  position: absolute;
  top: 10px;
  right: 10px;
  min-width: 28px;
  min-height: 28px;
}
.title .entry,
.note {
  width: 100%;
}
.title {
  display: block;
  margin: 2px 28px 8px 0;
}
.title .entry {
  font-family: var(--serif);
  font-size: 16px;
  font-weight: 600;
}
</style>
