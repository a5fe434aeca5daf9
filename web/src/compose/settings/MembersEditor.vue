<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { ask } from '../../api/client.ts';
import { useCompose } from '../context.ts';

/** Members of a field to be chosen, with a search. */
const props = defineProps<{ field: string; dataset: string; chosen: string[] }>();
const emit = defineEmits<{ change: [members: string[]] }>();
const { report } = useCompose();
const MOST = 200;

const search = ref('');
const { data, error } = useQuery({
  queryKey: computed(() => ['members to choose', report.value.id, props.dataset, props.field]),
  queryFn: ({ signal }) =>
    ask(
      membersResponseSchema,
      'POST',
      `/reports/${report.value.id}/members`,
      { field: props.field, scope: {}, draft: true, ...(props.dataset === report.value.dataset ? {} : { dataset: props.dataset }) },
      signal,
    ),
  staleTime: 60_000,
});
const found = computed(() =>
  (data.value?.members ?? []).filter(({ label }) => label.toLowerCase().includes(search.value.trim().toLowerCase())),
);
const toggle = (member: string): void =>
  emit('change', props.chosen.includes(member) ? props.chosen.filter((one) => one !== member) : [...props.chosen, member]);
</script>

<template>
  <div class="members">
    <input
      v-model="search"
      class="entry"
      type="search"
      :placeholder="`Find among ${data?.members.length ?? '…'}`"
      aria-label="Find a member"
    />
    <p v-if="error" class="muted">The members could not be fetched.</p>
    <ul>
      <li v-for="{ member, label } in found.slice(0, MOST)" :key="member">
        <label
          ><span>{{ label }}</span
          ><input type="checkbox" :checked="chosen.includes(member)" @change="toggle(member)"
        /></label>
      </li>
    </ul>
    <p v-if="found.length > MOST" class="muted">And {{ found.length - MOST }} more: search for them.</p>
  </div>
</template>

<style scoped>
.members {
  display: grid;
  gap: 4px;
}
.entry {
  width: 100%;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 190px;
  overflow-y: auto;
}
</style>
