<script setup lang="ts">
import { memberNodeSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { figure } from '../data/use-import.ts';
import { memberBranches } from './member-nodes.ts';

/** The members of a dimension as its levels put them, with the rows of each. */
const props = defineProps<{ dataset: string; dimension: string; revision: number }>();
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['members of dimension', props.dataset, props.dimension, props.revision]),
  queryFn: ({ signal }) =>
    ask(z.array(memberNodeSchema), 'GET', `/datasets/${props.dataset}/dimensions/${props.dimension}/members`, undefined, signal),
  placeholderData: (before) => before,
  retry: false,
});
const branches = computed(() => memberBranches(data.value ?? []));
</script>

<template>
  <section class="members" aria-labelledby="members-heading">
    <h2 id="members-heading" class="part">Members</h2>
    <p v-if="error" class="failure" role="alert">
      {{ error.message }} <v-btn class="inline" variant="plain" @click="refetch()">Try again</v-btn>
    </p>
    <p v-else-if="!data" class="muted">Fetching the members …</p>
    <v-treeview
      v-else
      class="tree"
      density="compact"
      items-registration="props"
      item-value="id"
      aria-label="Members"
      :items="branches"
      :open-on-click="true"
    >
      <template #append="{ item }"
        ><span class="muted">{{ figure(item.rows) }}</span></template
      >
    </v-treeview>
  </section>
</template>

<style scoped>
.members {
  width: 100%;
}
.tree {
  max-height: 320px;
  overflow-y: auto;
  background: none;
  padding: 0;
}
.failure {
  color: var(--off-text);
}
</style>
