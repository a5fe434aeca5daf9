<script setup lang="ts">
import type { ControlTotal } from '@bold-compass/core/api';
import type { Dataset } from '@bold-compass/core/model';
import { mdiAlertCircleOutline } from '@mdi/js';
import { sliceWords, stateWords } from './control-totals.ts';

/** Says above a report which of its figures do not tie out. */
defineProps<{ totals: ControlTotal[]; datasetOf: (name: string) => Dataset | undefined }>();
</script>

<template>
  <div v-if="totals.length > 0" class="untied" role="status">
    <v-icon :icon="mdiAlertCircleOutline" />
    <ul>
      <li v-for="total in totals" :key="total.id">
        Control total <strong>{{ sliceWords(total, datasetOf(total.dataset)) }}</strong> {{ stateWords(total, datasetOf(total.dataset)) }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.untied {
  display: flex;
  gap: 10px;
  margin: 8px 0 0;
  padding: 7px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--off);
  font-size: 13.5px;
}
.untied .v-icon {
  color: var(--off-text);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
