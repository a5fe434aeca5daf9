<script setup lang="ts">
import { controlTotalSchema } from '@bold-compass/core/api';
import type { Filter, Measure } from '@bold-compass/core/model';
import { useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { ApiProblem, ask } from '../api/client.ts';

/** Pins the figure of a cell as one that must hold: what the books say of it. */
const props = defineProps<{ dataset: string; measure: Measure; value: number; filter: Filter | null; conditions: string[] }>();
const queries = useQueryClient();
const isOpen = ref(false);
const expected = ref('');
const note = ref('');
const problem = ref('');
const isPinned = ref(false);
const isBusy = ref(false);

function open(): void {
  const decimals =
    props.measure.format.kind === 'currency'
      ? 2
      : Math.min(props.measure.format.decimals + (props.measure.format.kind === 'percent' ? 2 : 0), 6);
  expected.value = props.value.toFixed(decimals);
  note.value = '';
  problem.value = '';
  isOpen.value = true;
}
async function pin(): Promise<void> {
  isBusy.value = true;
  problem.value = '';
  try {
    // Figures are pasted with spaces and commas between their thousands.
    const body = { measure: props.measure.name, filter: props.filter, expected: expected.value.replaceAll(/[\s,]/g, ''), note: note.value };
    await ask(controlTotalSchema, 'POST', `/datasets/${props.dataset}/control-totals`, body);
    isOpen.value = false;
    isPinned.value = true;
    await queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === 'control totals' || queryKey[0] === 'report' });
  } catch (error) {
    problem.value = error instanceof ApiProblem ? error.message : 'This could not be saved. Try again.';
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <p v-if="isPinned" class="muted" role="status">
    Pinned as a control total: it is checked with every refresh and every change of a formula.
  </p>
  <v-btn v-else variant="text" class="pin" @click="open">Pin as control total</v-btn>
  <v-dialog v-model="isOpen" max-width="460" aria-label="Pin a control total">
    <v-card class="sheet">
      <form @submit.prevent="pin">
        <h2>Pin a control total</h2>
        <p>
          {{ measure.label }}<template v-if="conditions.length > 0">, {{ conditions.join(', ') }}</template>
        </p>
        <v-text-field v-model="expected" label="Expected value" inputmode="decimal" :error-messages="problem" maxlength="40" />
        <v-text-field v-model="note" label="Source" placeholder="Ledger, closing of October" maxlength="500" />
        <div class="actions">
          <v-btn @click="isOpen = false">Cancel</v-btn>
          <v-btn type="submit" color="primary" variant="flat" :loading="isBusy">Pin</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.pin {
  padding-inline: 0;
}
form {
  display: grid;
  gap: 10px;
}
p {
  margin: 0;
}
.actions {
  display: flex;
  justify-content: end;
  gap: 8px;
}
</style>
