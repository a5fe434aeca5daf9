<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { fieldLabel, type Crosstab } from '@bold-compass/core/model';
import { computed } from 'vue';
import ExhibitState from '../report/ExhibitState.vue';
import { datasetOf, useCompose } from './context.ts';
import { across, placeField, setLevel, type Edge } from './edges.ts';

/** Says how large a cross-tab would be, before it is drawn, and what else could be done. */
const props = defineProps<{ exhibit: Crosstab; rows: number; columns: number; edge: Edge; depth: number }>();
const emit = defineEmits<{ draw: [] }>();
const compose = useCompose();
const { change, selection } = compose;
const PICKED = 25;

/** The finest level that stands open: deeper ones add nothing yet. */
const field = computed(() => props.exhibit[props.edge].fields[Math.min(props.depth, props.exhibit[props.edge].fields.length - 1)]);
const label = computed(() => (field.value ? fieldLabel(datasetOf(compose, props.exhibit), field.value) : ''));
const number = new Intl.NumberFormat(LOCALE);
const measure = computed(() => props.exhibit.cells[0]?.measure);
function pick(): void {
  if (!field.value || !measure.value) return;
  const part = { pick: { count: PICKED, from: 'top' as const, measure: measure.value, at: [], per: 'all' as const, others: true } };
  change(setLevel(props.exhibit, props.edge, field.value, part));
}
</script>

<template>
  <ExhibitState
    kind="too-large"
    :title="`This would make ${number.format(rows)} rows and ${number.format(columns)} columns`"
    :message="`${label} has many members. Move it elsewhere, show only some of them, or undo the last step.`"
  >
    <v-btn v-if="field" @click="change(placeField(exhibit, across(edge), field))">
      Move {{ label }} {{ edge === 'top' ? 'down the side' : 'across the top' }}
    </v-btn>
    <v-btn v-if="field && measure" @click="pick">Top {{ PICKED }}, all others as one</v-btn>
    <v-btn @click="selection = { exhibit: exhibit.id }">Filter it in the settings</v-btn>
    <v-btn @click="emit('draw')">Show anyway</v-btn>
  </ExhibitState>
</template>
