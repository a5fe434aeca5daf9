<script setup lang="ts">
import { kindOf } from '@bold-compass/core/exhibits';
import { isCellExhibit, type Exhibit } from '@bold-compass/core/model';
import { onKeyStroke } from '@vueuse/core';
import { useOwnStorage } from '../shell/own-storage.ts';
import { mdiChevronDoubleLeft, mdiChevronDoubleRight } from '@mdi/js';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { isTyping } from '../report/keys.ts';
import { datasetOf, useCompose } from './context.ts';
import { allEntries, composedKind, takesFields, type Entry } from './exhibit-kinds.ts';
import type { FieldAction } from './DrawerField.vue';
import FieldSection from './FieldSection.vue';
import { choicesInGroups } from './field-groups.ts';
import { emptyMeasure } from './measures.ts';
import { HIDDEN_WIDTH, useComposeView } from './compose-view.ts';
import { askReader } from './prompts.ts';
import { dragByTouch } from '../drag/touch-drag.ts';

/** All measures and fields, to be dragged onto an exhibit or put there from a menu. */
void dragByTouch();
const compose = useCompose();
const { report, change, setReport, written, insertion } = compose;
/** What a field is put on: the chosen exhibit, or the only one that takes fields. */
const selected = computed((): Exhibit | undefined => {
  if (compose.selected.value) return compose.selected.value;
  const taking = report.value.exhibits.filter(takesFields);
  return taking.length === 1 ? taking[0] : undefined;
});
const dataset = computed(() => datasetOf(compose, selected.value));
const entries = computed(() => {
  const { value: exhibit } = selected;
  return exhibit ? composedKind(exhibit.kind).entries(exhibit, dataset.value) : allEntries(dataset.value);
});

const look = useComposeView();
const search = ref('');
const box = useTemplateRef<{ focus(): void }>('box');
const groups = computed(() => choicesInGroups(entries.value, search.value));
/** Sections that are folded, by name: kept in the browser. */
const folded = useOwnStorage<string[]>('folded fields', []);
const isFolded = (group: string): boolean => search.value === '' && folded.value.includes(group);
const fold = (group: string): void =>
  void (folded.value = folded.value.includes(group) ? folded.value.filter((other) => other !== group) : [...folded.value, group]);
/** Names that the chosen exhibit shows. */
const used = computed(() => {
  if (!selected.value) return new Set<string>();
  const { fields, measures } = kindOf(selected.value).names(selected.value);
  return new Set([...fields, ...measures]);
});

function actions(entry: Entry): FieldAction[] {
  const exhibit = selected.value;
  const own = exhibit ? composedKind(exhibit.kind).actions(exhibit, entry, dataset.value) : [];
  const found: FieldAction[] = own.map(({ words, changed }) => ({ words, run: () => change(changed) }));
  if (written.value) found.unshift({ words: 'Insert into formula', run: () => (insertion.value = entry.name) });
  const isAsked = report.value.prompts.some((prompt) => prompt.kind === 'members' && prompt.fields.includes(entry.name));
  if (entry.kind === 'field' && !isAsked && dataset.value.name === report.value.dataset)
    found.push({ words: 'Add as prompt', run: () => setReport(askReader(report.value, dataset.value, entry.fields)) });
  return found;
}
/** Begins a formula over the chosen cross-tab, or the only one. */
function writeFormula(): void {
  const exhibit = selected.value && isCellExhibit(selected.value) ? selected.value : report.value.exhibits.find(isCellExhibit);
  const at = exhibit ? exhibit.cells.length : 0;
  written.value = { measure: emptyMeasure(dataset.value, dataset.value.facts[0].name), isNew: true, exhibit: exhibit?.id ?? null, at };
}
onKeyStroke(['f', 'F'], (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event)) return;
  event.preventDefault();
  look.value.fieldsHidden = false;
  void nextTick(() => box.value?.focus());
});
</script>

<template>
  <v-navigation-drawer
    v-if="look.fieldsHidden"
    permanent
    tag="aside"
    class="drawer hidden"
    :width="HIDDEN_WIDTH"
    aria-label="Fields and measures"
  >
    <v-btn
      :icon="mdiChevronDoubleRight"
      variant="text"
      size="small"
      aria-label="Show fields"
      title="Show fields"
      @click="look.fieldsHidden = false"
    />
  </v-navigation-drawer>
  <v-navigation-drawer v-else permanent tag="aside" class="drawer" :width="212" aria-label="Fields and measures">
    <v-btn
      :icon="mdiChevronDoubleLeft"
      variant="text"
      size="small"
      class="hide"
      aria-label="Hide fields"
      title="Hide fields"
      @click="look.fieldsHidden = true"
    />
    <v-text-field ref="box" v-model="search" class="find" type="search" placeholder="Find a field" aria-label="Find a field">
      <template #append-inner><kbd aria-hidden="true">F</kbd></template>
    </v-text-field>
    <FieldSection
      v-for="{ group, choices } in groups"
      :key="group"
      :group="group"
      :entries="choices"
      :is-folded="isFolded(group)"
      :used="used"
      :actions="actions"
      :hint="selected ? 'It is there already.' : 'Choose an exhibit first, or add one above the page.'"
      @fold="fold(group)"
    />
    <p v-if="groups.length === 0" class="muted">No field matches “{{ search }}”.</p>
    <v-btn v-if="dataset.name === report.dataset" variant="text" class="more" @click="writeFormula">New measure</v-btn>
    <RouterLink class="more" :to="{ name: 'dataset', params: { dataset: dataset.name } }">Dataset measures and fields</RouterLink>
  </v-navigation-drawer>
</template>

<style scoped>
.drawer :deep(.v-navigation-drawer__content) {
  padding: 12px 8px 40px 12px;
}
.hidden :deep(.v-navigation-drawer__content) {
  padding: 8px 4px;
}
.hide {
  float: right;
  margin: 1px -4px 0 2px;
  color: var(--ink-2);
}
kbd {
  font: inherit;
  font-size: 12px;
  color: var(--ink-2);
}
.more {
  display: inline-block;
  margin: 14px 0 0 4px;
  color: var(--sea);
  font-size: 13px;
}
</style>
