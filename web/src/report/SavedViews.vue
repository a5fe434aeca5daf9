<script setup lang="ts">
import { savedViewSchema, type SavedView } from '@bold-compass/core/api';
import { mdiBookmarkOutline, mdiClose, mdiStar, mdiStarOutline } from '@mdi/js';
import { ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { useReport } from './context.ts';
import { addressOf, queryOf } from './saved-views.ts';

/** The reader's own views of a report: what is chosen, opened and ordered, under a name; one of them may be its start. */
const { view, report } = useReport();
const route = useRoute();
const router = useRouter();
const views = ref(view.value.views);
const isOpen = ref(false);
const name = ref('');
const problem = ref('');

async function change(method: 'PUT' | 'DELETE', path: string, body: object): Promise<void> {
  problem.value = '';
  try {
    views.value = await ask(z.array(savedViewSchema), method, `/reports/${report.value.id}/views${path}`, body);
  } catch (error) {
    problem.value = error instanceof ApiProblem ? error.message : 'This could not be saved. Try again.';
  }
}
async function keep(): Promise<void> {
  const wanted = name.value.trim();
  if (!wanted) {
    problem.value = 'Write a name for what you see.';
    return;
  }
  await change('PUT', '', { name: wanted, query: queryOf(route.query), isStart: false });
  if (!problem.value) name.value = '';
}
function show(chosen: SavedView): void {
  isOpen.value = false;
  void router.push({ query: addressOf(chosen.query) });
}
const setStart = ({ name: own, query, isStart }: SavedView): Promise<void> => change('PUT', '', { name: own, query, isStart: !isStart });
</script>

<template>
  <v-menu v-model="isOpen" :close-on-content-click="false" location="bottom end" :offset="6">
    <template #activator="{ props: activator }">
      <v-btn variant="text" :prepend-icon="mdiBookmarkOutline" v-bind="activator" :aria-owns="undefined">Views</v-btn>
    </template>
    <v-card class="views" aria-label="Saved views">
      <v-list v-if="views.length > 0" aria-label="Saved views">
        <v-list-item v-for="one in views" :key="one.id" :title="one.name" @click="show(one)">
          <template #append>
            <v-btn
              :icon="one.isStart ? mdiStar : mdiStarOutline"
              variant="text"
              size="x-small"
              :aria-pressed="one.isStart"
              :aria-label="one.isStart ? `Start with ${one.name} no longer` : `Start with ${one.name}`"
              :title="one.isStart ? 'The report opens with it' : 'Let the report open with it'"
              @click.stop="setStart(one)"
            />
            <v-btn
              :icon="mdiClose"
              variant="text"
              size="x-small"
              :aria-label="`Delete the view ${one.name}`"
              @click.stop="change('DELETE', `/${one.id}`, {})"
            />
          </template>
        </v-list-item>
      </v-list>
      <p v-else class="muted">Keep what you have chosen, opened and ordered under a name.</p>
      <form class="keep" @submit.prevent="keep">
        <v-text-field
          v-model="name"
          aria-label="Name of the view"
          placeholder="Name of what you see"
          maxlength="80"
          :error-messages="problem"
        />
        <v-btn type="submit" color="primary">Save</v-btn>
      </form>
    </v-card>
  </v-menu>
</template>

<style scoped>
.views {
  width: min(340px, 92vw);
  padding: 8px;
}
.muted {
  margin: 4px 8px 8px;
  font-size: 13px;
}
.keep {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: start;
}
</style>
