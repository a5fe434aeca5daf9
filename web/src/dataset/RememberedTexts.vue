<script setup lang="ts">
import { rememberedSchema, type Remembered } from '@bold-compass/core/api';
import { fieldLabel, findField, type Dataset } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import ProblemState from '../report/ProblemState.vue';

/** What texts of files were said to mean: each can be forgotten, and is then asked about anew. */
const props = defineProps<{ dataset: Dataset }>();
const wordsOf = (level: string): string => (findField(props.dataset, level) ? fieldLabel(props.dataset, level) : level);
const path = `/datasets/${props.dataset.name}/corrections`;
const {
  data: remembered,
  error,
  refetch,
} = useQuery({
  queryKey: ['remembered', props.dataset.name],
  queryFn: ({ signal }) => ask(z.array(rememberedSchema), 'GET', path, undefined, signal),
});
const HEADERS = [
  { key: 'text', title: 'Text in the file' },
  { key: 'member', title: 'Means' },
  { key: 'actions', title: 'Actions', sortable: false, align: 'end' },
] as const;
const message = ref('');
async function forget({ level, text }: Remembered): Promise<void> {
  message.value = '';
  try {
    await ask(z.object({}), 'DELETE', path, { level, text });
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This could not be forgotten. Try again.';
  }
  await refetch();
}
</script>

<template>
  <ProblemState v-if="error" :error="error" @retry="refetch()" />
  <div v-else-if="remembered" class="remembered">
    <p class="muted">
      What a text of a file was said to mean holds for the next files too. Forget it to be asked anew; records that are here stay.
    </p>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
    <v-data-table v-if="remembered.length > 0" :headers="HEADERS" :items="remembered" aria-label="Texts and what they mean">
      <template #[`item.text`]="{ item }">“{{ item.text }}”</template>
      <template #[`item.member`]="{ item }">
        {{ wordsOf(item.level) }}: <strong>{{ item.member }}</strong>
      </template>
      <template #[`item.actions`]="{ item }">
        <v-btn variant="plain" :aria-label="`Forget what “${item.text}” means`" class="inline" @click="forget(item)">Forget</v-btn>
      </template>
    </v-data-table>
    <p v-else>Nothing yet. When a file names a member that is not there, you can say which one it means.</p>
  </div>
</template>

<style scoped>
.remembered {
  margin-top: 14px;
  max-width: 720px;
  margin-top: 14px;
}
.end {
  text-align: right;
}
</style>
