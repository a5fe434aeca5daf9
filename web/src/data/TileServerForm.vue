<script setup lang="ts">
import { SIMULATED_TILES, tileServerSchema, tileServerViewSchema, type TileServerView } from '@bold-compass/core/api';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { tileServerQuestion } from '../chart/tile-server-query.ts';

/** Where the tiles behind maps come from. */
const props = defineProps<{ known: TileServerView }>();
const emit = defineEmits<{ close: [] }>();
const queries = useQueryClient();

const address = ref(props.known.address === SIMULATED_TILES ? '' : (props.known.address ?? ''));
const isSimulated = ref(props.known.address === SIMULATED_TILES);
const attribution = ref(props.known.attribution);
const asked = computed(() =>
  tileServerSchema.safeParse({ address: isSimulated.value ? SIMULATED_TILES : address.value, attribution: attribution.value }),
);
const busy = ref(false);
const message = ref('');

async function attempt(action: () => Promise<unknown>): Promise<void> {
  busy.value = true;
  message.value = '';
  try {
    await action();
    await queries.invalidateQueries({ queryKey: tileServerQuestion.queryKey });
    emit('close');
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This did not work. Try again.';
  } finally {
    busy.value = false;
  }
}
function save(): void {
  const { data, error } = asked.value;
  if (data) void attempt(() => ask(tileServerViewSchema, 'PUT', '/tile-server', data));
  else message.value = error.issues[0].message;
}
const remove = (): Promise<void> => attempt(() => ask(z.object({}), 'DELETE', '/tile-server'));
</script>

<template>
  <form class="form" aria-label="Tile server" @submit.prevent="save">
    <v-checkbox v-model="isSimulated" label="Simulated tiles: land and sea, drawn here" />
    <v-text-field
      v-if="!isSimulated"
      v-model="address"
      label="Address"
      placeholder="https://tiles.example/{z}/{x}/{y}.png"
      class="address"
    />
    <v-text-field v-model="attribution" label="Attribution" maxlength="200" hint="Shown under each map" persistent-hint />
    <div class="actions">
      <v-btn color="primary" variant="flat" type="submit" :disabled="busy">{{ busy ? 'Fetching a tile …' : 'Test and save' }}</v-btn>
      <v-btn v-if="known.isSet" variant="text" :disabled="busy" @click="remove">Remove</v-btn>
      <v-btn @click="emit('close')">Close</v-btn>
    </div>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 10px;
  max-width: 560px;
}
.actions {
  display: flex;
  gap: 8px;
}
.failure {
  color: var(--off-text);
  margin: 0;
}
</style>
