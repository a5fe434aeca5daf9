<script setup lang="ts">
import { fieldLabel, measureNamed, type Crosstab } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useReport } from '../report/context.ts';
import {
  across,
  addField,
  addMeasure,
  groupingFields,
  removeField,
  removeMeasure,
  setTotal,
  shiftField,
  swapAxes,
  type Edge,
} from './edges.ts';
import FieldPicker from './FieldPicker.vue';

/** The three places of a cross-tab, with a tag for each field and measure. */
const props = defineProps<{ exhibit: Crosstab }>();
const emit = defineEmits<{ change: [exhibit: Crosstab] }>();
const { view } = useReport();

const dataset = computed(() => view.value.dataset);
const edges: { edge: Edge; words: string; other: string }[] = [
  { edge: 'side', words: 'Down the side', other: 'across the top' },
  { edge: 'top', words: 'Across the top', other: 'down the side' },
];
const free = computed(() =>
  groupingFields(dataset.value).filter(({ name }) => !props.exhibit.side.fields.includes(name) && !props.exhibit.top.fields.includes(name)),
);
const freeMeasures = computed(() =>
  dataset.value.measures
    .filter(({ name, hidden }) => !hidden && !props.exhibit.cells.some((cell) => cell.measure === name))
    .map(({ name, label }) => ({ name, label, group: 'Measures' })),
);
const hasTotal = (edge: Edge): boolean => props.exhibit[edge].total !== 'never';
</script>

<template>
  <section class="edges" :aria-label="`What ${exhibit.title} shows`">
    <div v-for="{ edge, words, other } in edges" :key="edge" class="edge" role="group" :aria-label="words">
      <span class="words serif">{{ words }}</span>
      <template v-for="(field, index) in exhibit[edge].fields" :key="field">
        <span v-if="index > 0" class="step" aria-hidden="true">›</span>
        <v-menu location="bottom start" :offset="4">
          <template #activator="{ props: activator }">
            <button type="button" class="tag field" v-bind="activator" :aria-owns="undefined">{{ fieldLabel(dataset, field) }}</button>
          </template>
          <div class="menu-sheet">
            <button type="button" class="menu-item" @click="emit('change', addField(exhibit, across(edge), field))">
              Put it {{ other }}
            </button>
            <button v-if="index > 0" type="button" class="menu-item" @click="emit('change', shiftField(exhibit, edge, field, -1))">
              Move it outward
            </button>
            <button
              v-if="index < exhibit[edge].fields.length - 1"
              type="button"
              class="menu-item"
              @click="emit('change', shiftField(exhibit, edge, field, 1))"
            >
              Move it inward
            </button>
            <button type="button" class="menu-item" @click="emit('change', removeField(exhibit, edge, field))">Take it out</button>
          </div>
        </v-menu>
      </template>
      <FieldPicker :label="`Add a field ${words.toLowerCase()}`" :choices="free" @pick="emit('change', addField(exhibit, edge, $event))" />
      <button
        type="button"
        class="total"
        :aria-pressed="hasTotal(edge)"
        @click="emit('change', setTotal(exhibit, edge, hasTotal(edge) ? 'never' : 'auto'))"
      >
        {{ hasTotal(edge) ? 'with a total' : 'without a total' }}
      </button>
    </div>
    <div class="edge" role="group" aria-label="In the cells">
      <span class="words serif">In the cells</span>
      <v-menu v-for="cell in exhibit.cells" :key="cell.measure" location="bottom start" :offset="4">
        <template #activator="{ props: activator }">
          <button type="button" class="tag measure" v-bind="activator" :aria-owns="undefined">
            {{ measureNamed(dataset, cell.measure).label }}
          </button>
        </template>
        <div class="menu-sheet">
          <p class="formula">{{ measureNamed(dataset, cell.measure).formula }}</p>
          <button type="button" class="menu-item" @click="emit('change', removeMeasure(exhibit, cell.measure))">Take it out</button>
        </div>
      </v-menu>
      <FieldPicker label="Add a measure in the cells" :choices="freeMeasures" @pick="emit('change', addMeasure(exhibit, $event))" />
    </div>
    <button type="button" class="button swap" @click="emit('change', swapAxes(exhibit))">Swap side and top</button>
  </section>
</template>

<style scoped>
.edges {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 28px;
  margin-top: 18px;
  padding: 10px 14px;
  border: 1px solid var(--sea);
  border-radius: 8px;
  background: var(--sheet);
}
.edge {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 7px;
}
.words {
  font-style: italic;
  font-weight: 400;
  color: var(--ink-2);
  margin-right: 2px;
}
.step {
  color: var(--ink-2);
}
.tag {
  min-height: 26px;
  padding: 2px 11px;
  border-radius: 5px;
  font-weight: 600;
  font-size: 13px;
}
.tag.field {
  background: var(--sea-tint);
  color: var(--sea);
  border: 1px solid color-mix(in srgb, var(--sea) 28%, transparent);
}
.tag.measure {
  background: var(--brass-tint);
  color: var(--brass);
  border: 1px solid color-mix(in srgb, var(--brass-line) 35%, transparent);
}
.total {
  color: var(--sea);
  font-size: 12.5px;
  text-decoration: underline;
  min-height: 24px;
}
.formula {
  margin: 2px 10px 6px;
  max-width: 280px;
  color: var(--ink-2);
  font-size: 13px;
}
.swap {
  margin-left: auto;
}
</style>
