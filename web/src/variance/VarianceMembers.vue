<script setup lang="ts">
import type { VarianceResponse } from '@bold-compass/core/api';
import { LOCALE, cellText, NO_VALUE } from '@bold-compass/core/format';
import type { Measure } from '@bold-compass/core/model';
import { contributionRows } from '@bold-compass/core/variance';
import { computed } from 'vue';

type Contributions = Pick<VarianceResponse['fields'][number], 'label' | 'plural' | 'named' | 'others'>;
type Path = Contributions['named'][number]['path'];

/** The members that made most of a difference, each figure leading to why it is so and to its records. */
const props = defineProps<{
  contributions: Contributions;
  measure: Measure;
  caption: string;
  /** The words for both sides, and for what lies between them. */
  names: { before: string; after: string; change: string };
  isChosen: (path: Path) => boolean;
}>();
const emit = defineEmits<{ choose: [path: Path, which: 'before' | 'after'] }>();

const say = (value: number | null): string => (value === null ? NO_VALUE : cellText(value, props.measure.format, LOCALE));
const rows = computed(() => contributionRows(props.contributions, LOCALE));
</script>

<template>
  <table class="ruled members">
    <caption class="visually-hidden">
      {{
        caption
      }}
    </caption>
    <thead>
      <tr>
        <th scope="col">{{ contributions.label }}</th>
        <th scope="col" class="number">{{ names.before }}</th>
        <th scope="col" class="number">{{ names.after }}</th>
        <th scope="col" class="number">{{ names.change }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.label" :class="{ chosen: row.path && isChosen(row.path) }">
        <th scope="row">{{ row.label }}</th>
        <td v-for="which in ['before', 'after'] as const" :key="which" class="number">
          <v-btn v-if="row.path && row[which] !== null" variant="plain" class="inline" @click="emit('choose', row.path, which)">{{
            say(row[which])
          }}</v-btn>
          <template v-else>{{ say(row[which]) }}</template>
        </td>
        <td class="number" :class="row.change < 0 ? 'worse' : ''">{{ row.change > 0 ? '+' : '' }}{{ say(row.change) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.members th[scope='row'] {
  color: var(--ink);
  border-bottom-color: var(--rule-2);
}
.members .number {
  text-align: right;
}
.members td,
.members th {
  vertical-align: baseline;
  padding-top: 3px;
  padding-bottom: 3px;
}
.members .v-btn {
  color: var(--ink);
  font-size: inherit;
}
.worse {
  color: var(--off-text);
}
.chosen {
  background: var(--sea-tint);
}
</style>
