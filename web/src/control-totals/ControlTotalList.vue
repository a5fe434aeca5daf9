<script setup lang="ts">
import type { ControlTotal } from '@bold-compass/core/api';
import { capitalised } from '@bold-compass/core/format';
import type { Dataset } from '@bold-compass/core/model';
import { mdiAlertCircleOutline, mdiCheckCircleOutline, mdiDeleteOutline } from '@mdi/js';
import { sliceWords, stateWords } from './control-totals.ts';

/** Control totals with how each stands. */
defineProps<{ totals: ControlTotal[]; dataset: Dataset; canChange: boolean }>();
const emit = defineEmits<{ remove: [id: string] }>();
</script>

<template>
  <v-list class="totals" aria-label="Control totals">
    <v-list-item v-for="total in totals" :key="total.id" :class="total.state">
      <template #prepend>
        <v-icon :icon="total.state === 'ties' ? mdiCheckCircleOutline : mdiAlertCircleOutline" class="sign" />
      </template>
      <p class="slice">{{ sliceWords(total, dataset) }}</p>
      <p class="muted">
        {{ capitalised(stateWords(total, dataset)) }}<template v-if="total.note"> · {{ total.note }}</template
        ><template v-if="total.person"> · pinned by {{ total.person }}</template>
      </p>
      <template v-if="canChange" #append>
        <v-btn
          :icon="mdiDeleteOutline"
          variant="text"
          size="small"
          :aria-label="`Delete the control total of ${sliceWords(total, dataset)}`"
          @click="emit('remove', total.id)"
        />
      </template>
    </v-list-item>
  </v-list>
</template>

<style scoped>
p {
  margin: 0;
  white-space: normal;
}
.totals {
  background: none;
}
.slice {
  font-weight: 600;
}
.sign {
  color: var(--off-text);
}
.ties .sign {
  color: var(--on-text);
}
</style>
