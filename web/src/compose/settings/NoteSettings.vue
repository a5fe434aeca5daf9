<script setup lang="ts">
import { notesAt, pointWords } from '@bold-compass/core/chart';
import { pathKey, writtenPath } from '@bold-compass/core/crosstab';
import type { Chart, PointNote } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { shownFigures } from '../../chart/shown-figures.ts';
import { readCrosstabState } from '../../report/url-state.ts';
import { useCompose } from '../context.ts';
import SettingsSection from './SettingsSection.vue';

/** Words at points of a chart. */
const props = defineProps<{ exhibit: Chart }>();
const { change } = useCompose();
const route = useRoute();
const notes = computed(() => props.exhibit.chart.notes);
const figure = computed(() => shownFigures.get(props.exhibit.id));
const measures = computed(() => props.exhibit.cells.map(({ measure }) => measure));
/** The point that is chosen in the chart. */
const chosen = computed(() => {
  const { cell } = readCrosstabState(props.exhibit, route.query);
  return cell && { side: writtenPath(cell.side), top: writtenPath(cell.top), measure: cell.measure };
});
const set = (next: PointNote[]): void => change({ ...props.exhibit, chart: { ...props.exhibit.chart, notes: next } });
const keyOf = ({ side, top, measure }: Omit<PointNote, 'text'>): string => [measure, pathKey(side), pathKey(top)].join(' ');
const hasNote = computed(() => chosen.value !== null && notes.value.some((note) => keyOf(note) === keyOf(chosen.value!)));
/** What a point says; that it is not shown where it is not. */
function wordsOf(note: Omit<PointNote, 'text'>): string {
  if (!figure.value) return '';
  const { series, categories } = figure.value;
  const [at] = notesAt([{ ...note, text: '' }], measures.value, series, categories);
  return at ? pointWords(figure.value, series[at.series], at.category) : 'A point that is not shown now';
}
function add(): void {
  if (!chosen.value) return;
  set([...notes.value, { ...chosen.value, text: 'Note' }]);
}
function write(index: number, words: string): void {
  const text = words.trim();
  set(text === '' ? notes.value.filter((_, at) => at !== index) : notes.value.map((note, at) => (at === index ? { ...note, text } : note)));
}
const textOf = (event: Event): string => (event.target as HTMLInputElement).value;
const MOST = 20;
</script>

<template>
  <SettingsSection title="Notes" :about="notes.length ? String(notes.length) : undefined">
    <div v-for="(note, index) in notes" :key="keyOf(note)" class="note">
      <p>
        {{ wordsOf(note) }}
        <v-btn variant="plain" class="inline" :aria-label="`Remove note at ${wordsOf(note)}`" @click="write(index, '')">Remove</v-btn>
      </p>
      <v-text-field label="Note" maxlength="200" :model-value="note.text" @change="write(index, textOf($event))" />
    </div>
    <v-btn v-if="chosen && !hasNote && notes.length < MOST" variant="text" @click="add">Add note at {{ wordsOf(chosen) }}</v-btn>
    <p v-else-if="!chosen" class="muted">Choose a point in the chart to add a note to it.</p>
  </SettingsSection>
</template>

<style scoped>
.note {
  display: grid;
  gap: 4px;
  border-left: 3px solid var(--sea-tint);
  padding-left: 8px;
}
.note p {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: 13px;
}
</style>
