<script setup lang="ts">
import { isDataExhibit, measureNamed, type Crosstab, type Exhibit, type List } from '@bold-compass/core/model';
import { newKpi } from '@bold-compass/core/exhibits';
import { onKeyStroke } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import { beginDrag, endDrag } from './dragging.ts';
import { freeMeasures, groupingFields, measureChoices, placeField, placeMeasure, recordFields, type FieldChoice } from './edges.ts';
import { askReader } from './prompts.ts';

/** All fields and measures, to be dragged onto an exhibit or put there from a menu. */
const compose = useCompose();
const { report, change, setReport } = compose;
/** What a field is put on: the chosen exhibit, or the only one that takes fields. */
const selected = computed((): Exhibit | undefined => {
  if (compose.selected.value) return compose.selected.value;
  const taking = report.value.exhibits.filter(({ kind }) => kind === 'crosstab' || kind === 'list');
  return taking.length === 1 ? taking[0] : undefined;
});
const dataset = computed(() => datasetOf(compose, selected.value));

const search = ref('');
const box = useTemplateRef<HTMLInputElement>('box');
interface Entry extends FieldChoice {
  kind: 'field' | 'measure';
}
const entries = computed((): Entry[] => {
  const { value: exhibit } = selected;
  const fields = exhibit?.kind === 'list' ? recordFields(dataset.value, exhibit.fact) : groupingFields(dataset.value);
  return [
    ...fields.map((one) => ({ ...one, kind: 'field' as const })),
    ...measureChoices(dataset.value).map((one) => ({ ...one, kind: 'measure' as const })),
  ];
});
const groups = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const found = new Map<string, Entry[]>();
  for (const entry of entries.value) {
    if (wanted && !entry.words.toLowerCase().includes(wanted)) continue;
    found.set(entry.group, [...(found.get(entry.group) ?? []), entry]);
  }
  return [...found];
});
/** Names that the chosen exhibit shows. */
const used = computed(() => {
  const exhibit = selected.value;
  if (!exhibit || !isDataExhibit(exhibit)) return new Set<string>();
  if (exhibit.kind === 'crosstab')
    return new Set([...exhibit.side.fields, ...exhibit.top.fields, ...exhibit.cells.map(({ measure }) => measure)]);
  if (exhibit.kind === 'list')
    return new Set([...exhibit.columns.map(({ field, measure }) => field ?? measure ?? ''), ...exhibit.groups.map(({ field }) => field)]);
  return new Set(exhibit.kpis.map(({ measure }) => measure));
});

interface Action {
  words: string;
  run(): void;
}
function crosstabActions(exhibit: Crosstab, { kind, name }: Entry): Action[] {
  if (kind === 'measure') {
    const free = freeMeasures(dataset.value, exhibit).some((one) => one.name === name);
    return free ? [{ words: 'Put it in the cells', run: () => change(placeMeasure(exhibit, measureNamed(dataset.value, name))) }] : [];
  }
  return [
    { words: 'Put it down the side', run: () => change(placeField(exhibit, 'side', name)) },
    { words: 'Put it across the top', run: () => change(placeField(exhibit, 'top', name)) },
  ];
}
function listActions(exhibit: List, { kind, name }: Entry): Action[] {
  const column = kind === 'measure' ? { measure: name } : { field: name };
  const add = { words: 'Add it as a column', run: () => change({ ...exhibit, columns: [...exhibit.columns, column] }) };
  const isGroup = exhibit.groups.some(({ field }) => field === name);
  const group = {
    words: 'Group by it',
    run: () => change({ ...exhibit, groups: [...exhibit.groups, { field: name, header: true, footer: true }] }),
  };
  return kind === 'field' && !isGroup ? [add, group] : [add];
}
function actions(entry: Entry): Action[] {
  const exhibit = selected.value;
  const own: Action[] = [];
  if (exhibit?.kind === 'crosstab') own.push(...crosstabActions(exhibit, entry));
  if (exhibit?.kind === 'list') own.push(...listActions(exhibit, entry));
  if (exhibit?.kind === 'kpis' && entry.kind === 'measure' && exhibit.kpis.length < 6) {
    const measure = measureNamed(dataset.value, entry.name);
    const ids = exhibit.kpis.map(({ id }) => id);
    own.push({ words: 'Add it to the strip', run: () => change({ ...exhibit, kpis: [...exhibit.kpis, newKpi(measure, ids)] }) });
  }
  const asked = report.value.prompts.some(({ fields }) => fields.includes(entry.name));
  if (entry.kind === 'field' && !asked && dataset.value.name === report.value.dataset)
    own.push({ words: 'Add as prompt', run: () => setReport(askReader(report.value, dataset.value, entry.name)) });
  return own;
}
onKeyStroke(['f', 'F'], (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable]')) return;
  event.preventDefault();
  box.value?.focus();
});
</script>

<template>
  <aside class="drawer" aria-label="Fields and measures">
    <input ref="box" v-model="search" class="entry" type="search" placeholder="Find a field    F" aria-label="Find a field" />
    <section v-for="[group, members] in groups" :key="group" :aria-label="group">
      <h2>{{ group }}</h2>
      <ul>
        <li v-for="entry in members" :key="`${entry.kind} ${entry.name}`">
          <v-menu location="end top" :offset="4">
            <template #activator="{ props: activator }">
              <button
                type="button"
                class="field"
                :class="[entry.kind, { used: used.has(entry.name) }]"
                v-bind="activator"
                :aria-owns="undefined"
                draggable="true"
                @dragstart="beginDrag($event, { kind: entry.kind, name: entry.name }, entry.label)"
                @dragend="endDrag"
              >
                <span class="sign" aria-hidden="true">{{ entry.kind === 'measure' ? 'Σ' : '·' }}</span>{{ entry.label }}
              </button>
            </template>
            <div class="menu-sheet">
              <button v-for="action in actions(entry)" :key="action.words" type="button" class="menu-item" @click="action.run()">
                {{ action.words }}
              </button>
              <p v-if="actions(entry).length === 0" class="hint">
                {{ selected ? 'It is there already.' : 'Choose an exhibit first, or add one above the page.' }}
              </p>
            </div>
          </v-menu>
        </li>
      </ul>
    </section>
    <p v-if="groups.length === 0" class="muted">No field matches “{{ search }}”.</p>
    <RouterLink class="more" :to="{ name: 'dataset', params: { dataset: dataset.name } }">New measure or field</RouterLink>
  </aside>
</template>

<style scoped>
.drawer {
  background: var(--sheet);
  border-right: 1px solid var(--rule);
  padding: 12px 10px 40px 14px;
  position: sticky;
  top: 0;
  height: 100vh;
  overflow-y: auto;
}
.entry {
  width: 100%;
}
h2 {
  font: inherit;
  font-size: 12.5px;
  font-weight: 600;
  color: var(--ink-2);
  margin: 12px 0 2px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.field {
  display: flex;
  gap: 8px;
  width: 100%;
  min-height: 24px;
  padding: 1px 4px 1px 8px;
  border-radius: 5px;
  text-align: left;
  cursor: grab;
  font-size: 13.5px;
}
.field:hover {
  background: var(--sea-tint);
}
.field.used {
  color: var(--sea);
  font-weight: 600;
}
.field.measure.used {
  color: var(--brass);
}
.sign {
  width: 12px;
  color: var(--ink-2);
  text-align: center;
}
.hint {
  margin: 4px 10px;
  max-width: 220px;
  color: var(--ink-2);
  font-size: 13px;
}
.more {
  display: inline-block;
  margin-top: 14px;
  color: var(--sea);
  font-size: 13px;
}
</style>
