<script setup lang="ts">
import { isCellExhibit, isDataExhibit } from '@bold-compass/core/model';
import { mdiChevronDoubleLeft, mdiChevronDoubleRight, mdiClose } from '@mdi/js';
import { computed } from 'vue';
import { kindOf } from '@bold-compass/core/exhibits';
import { movedBy } from '../drag/landing.ts';
import { datasetOf, useCompose } from './context.ts';
import { composedKind } from './exhibit-kinds.ts';
import { HIDDEN_WIDTH, useComposeView } from './compose-view.ts';
import CellSettings from './settings/CellSettings.vue';
import LevelSettings from './settings/LevelSettings.vue';
import ReportSettings from './settings/ReportSettings.vue';
import PageSettings from '../paper/PageSettings.vue';
import SectionSettings from './settings/SectionSettings.vue';
import SettingsSection from './settings/SettingsSection.vue';

/** The settings of what is chosen: a tag, an exhibit, or the report. */
defineProps<{
  /** Whether the pages of the report are looked at. */
  asPages: boolean;
}>();
const compose = useCompose();
const { report, selection, selected, change, setReport } = compose;
const look = useComposeView();
const part = computed(() => selection.value?.part);
const cell = computed(() => {
  const { value: exhibit } = selected;
  return exhibit && isCellExhibit(exhibit) && part.value?.kind === 'cell' && exhibit.cells[part.value.index]
    ? { exhibit, index: part.value.index }
    : null;
});
const level = computed(() => {
  const { value: exhibit } = selected;
  if (!exhibit || !isCellExhibit(exhibit) || part.value?.kind !== 'level') return null;
  const { edge, field } = part.value;
  return exhibit[edge].fields.includes(field) ? { exhibit, edge, field } : null;
});
/** Cross-tabs and charts of the same page whose chosen member the exhibit can follow. */
const followable = computed(() =>
  report.value.exhibits.flatMap((one) =>
    isCellExhibit(one) && one.id !== selected.value?.id && one.page === selected.value?.page ? [{ value: one.id, title: one.title }] : [],
  ),
);
const WIDTHS = [
  { value: 12, words: 'Whole page' },
  { value: 9, words: 'Three quarters' },
  { value: 8, words: 'Two thirds' },
  { value: 6, words: 'Half' },
  { value: 4, words: 'A third' },
  { value: 3, words: 'A quarter' },
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
  const { exhibits } = report.value;
  const at = exhibits.findIndex(({ id }) => id === selected.value?.id);
  if (at < 0 || at + by < 0 || at + by >= exhibits.length) return;
  setReport({ ...report.value, exhibits: movedBy(exhibits, at, by) });
}
</script>

<template>
  <v-navigation-drawer
    v-if="look.settingsHidden"
    permanent
    tag="aside"
    location="right"
    class="settings hidden"
    :width="HIDDEN_WIDTH"
    aria-label="Settings"
  >
    <v-btn
      :icon="mdiChevronDoubleLeft"
      variant="text"
      size="small"
      aria-label="Show settings"
      title="Show settings"
      @click="look.settingsHidden = false"
    />
  </v-navigation-drawer>
  <v-navigation-drawer v-else permanent tag="aside" location="right" class="settings" :width="276" aria-label="Settings">
    <v-btn
      :icon="mdiChevronDoubleRight"
      variant="text"
      size="small"
      aria-label="Hide settings"
      title="Hide settings"
      class="hide"
      @click="look.settingsHidden = true"
    />
    <v-btn
      v-if="selection && !asPages"
      :icon="mdiClose"
      variant="text"
      size="small"
      aria-label="Settings of the report"
      class="close"
      @click="selection = selection.part ? { exhibit: selection.exhibit } : null"
    />
    <PageSettings v-if="asPages" />
    <CellSettings v-else-if="cell" :key="`cell ${cell.exhibit.id} ${cell.index}`" v-bind="cell" />
    <LevelSettings v-else-if="level" :key="`level ${level.exhibit.id} ${level.field}`" v-bind="level" />
    <template v-else-if="selected">
      <p class="kind">{{ kindOf(selected).label }}</p>
      <template v-if="isDataExhibit(selected)">
        <v-text-field
          aria-label="Title of the exhibit"
          class="title"
          maxlength="200"
          :model-value="selected.title"
          @change="isDataExhibit(selected) && change({ ...selected, title: valueOf($event).trim() || selected.title })"
        />
      </template>
      <component
        :is="composedKind(selected.kind).settings"
        v-if="composedKind(selected.kind).settings"
        :key="selected.id"
        :exhibit="selected"
      />
      <SettingsSection title="Position and size" :open="composedKind(selected.kind).settings === null">
        <v-select
          label="Width"
          :model-value="selected.width"
          :items="[
            ...WIDTHS.map((one) => ({ value: one.value, title: one.words })),
            ...(!WIDTHS.some(({ value }) => value === selected!.width)
              ? [{ value: selected.width, title: `${selected.width} of 12` }]
              : []),
          ]"
          @update:model-value="setBase({ width: $event })"
        />
        <v-text-field
          label="Height, in pixels"
          type="number"
          min="120"
          max="4000"
          step="10"
          placeholder="as needed"
          :model-value="selected.height ?? ''"
          @change="setHeight(valueOf($event))"
        />
        <v-select
          v-if="report.pages.length > 1"
          label="Page"
          :model-value="selected.page ?? report.pages[0].id"
          :items="report.pages.map((page) => ({ value: page.id, title: page.title }))"
          @update:model-value="setBase({ page: $event })"
        />
        <div class="actions-line">
          <v-btn @click="move(-1)">Move up</v-btn>
          <v-btn @click="move(1)">Move down</v-btn>
        </div>
      </SettingsSection>
      <SettingsSection v-if="isDataExhibit(selected)" title="Sections" :about="selected.sections ? 'on' : ''">
        <SectionSettings
          :key="selected.id"
          :sections="selected.sections"
          :dataset="datasetOf(compose, selected)"
          @change="isDataExhibit(selected) && change({ ...selected, sections: $event })"
        />
      </SettingsSection>
      <SettingsSection v-if="isDataExhibit(selected) && followable.length > 0" title="Cross-filter" :about="selected.follows ? 'on' : ''">
        <v-select
          label="Filtered by"
          hint="The member selected there"
          persistent-hint
          :model-value="selected.follows ?? ''"
          :items="[{ value: '', title: 'Nothing' }, ...followable]"
          @update:model-value="isDataExhibit(selected) && change({ ...selected, follows: $event || undefined })"
        />
      </SettingsSection>
      <SettingsSection v-if="isDataExhibit(selected)" title="Footnote">
        <v-textarea
          class="note"
          rows="3"
          maxlength="2000"
          aria-label="Note"
          :model-value="selected.note"
          @change="isDataExhibit(selected) && change({ ...selected, note: valueOf($event).trim() })"
        />
      </SettingsSection>
    </template>
    <ReportSettings v-else />
  </v-navigation-drawer>
</template>

<style scoped>
.settings :deep(.v-navigation-drawer__content) {
  padding: 14px 16px 60px;
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
  background: var(--sheet);
  background: var(--sheet) !important;
  position: absolute;
  top: 10px;
  right: 42px;
  min-width: 28px;
  min-height: 28px;
}
.hidden :deep(.v-navigation-drawer__content) {
  padding: 8px 4px;
}
.hide {
  position: absolute;
  top: 8px;
  right: 8px;
  color: var(--ink-2);
}
.title .entry,
.note {
  width: 100%;
}
.title {
  display: block;
  margin: 2px 60px 8px 0;
}
.title .entry {
  font-family: var(--serif);
  font-size: 16px;
  font-weight: 600;
}
</style>
