<script setup lang="ts">
import { computed, nextTick, ref, toRef, useTemplateRef, watch } from 'vue';
import { chosenPart, memberTree, toggled } from '../member-tree.ts';
import { useMembers } from '../members.ts';

/** Members of a field to be chosen, under what they stand under, with a search; a branch chooses all below it. */
const props = defineProps<{ field: string; dataset: string; chosen: string[] }>();
const emit = defineEmits<{ change: [members: string[]] }>();
const MOST = 200;

const search = ref('');
const { members, error } = useMembers(toRef(props, 'dataset'), toRef(props, 'field'), undefined, true);
const lines = computed(() => memberTree(members.value ?? [], search.value));
const chosenSet = computed(() => new Set(props.chosen));
const shown = computed(() => lines.value.slice(0, MOST).map((line) => ({ line, part: chosenPart(line, chosenSet.value) })));

/** At first the list stands at what is chosen. */
const list = useTemplateRef('list');
let isPlaced = false;
watch(
  shown,
  async ([first]) => {
    if (!first || isPlaced) return;
    isPlaced = true;
    await nextTick();
    const chosen = list.value?.querySelector('input:checked')?.closest('li');
    if (list.value && chosen) list.value.scrollTop = chosen.offsetTop - list.value.offsetTop;
  },
  { immediate: true, flush: 'post' },
);
</script>

<template>
  <div class="members">
    <v-text-field v-model="search" type="search" :placeholder="`Find among ${members?.length ?? '…'}`" aria-label="Find a member" />
    <p v-if="error" class="muted">The members could not be fetched.</p>
    <ul ref="list">
      <li v-for="{ line, part } in shown" :key="line.key">
        <v-checkbox
          :label="line.label"
          :aria-label="line.isBranch ? `All of ${line.label}` : line.label"
          :model-value="part === 'all'"
          :indeterminate="part === 'some'"
          @update:model-value="emit('change', toggled(line, chosen))"
        />
      </li>
    </ul>
    <p v-if="lines.length > MOST" class="muted">And {{ lines.length - MOST }} more: search for them.</p>
    <p v-if="members && lines.length === 0" class="muted">No member matches.</p>
  </div>
</template>

<style scoped>
.members {
  display: grid;
  gap: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 230px;
  overflow-y: auto;
}
.branch {
  font-weight: 600;
}
</style>
