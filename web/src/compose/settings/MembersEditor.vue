<script setup lang="ts">
import { computed, ref, toRef } from 'vue';
import { useMembers } from '../members.ts';

/** Members of a field to be chosen, with a search. */
const props = defineProps<{ field: string; dataset: string; chosen: string[] }>();
const emit = defineEmits<{ change: [members: string[]] }>();
const MOST = 200;

const search = ref('');
const { members, error } = useMembers(toRef(props, 'dataset'), toRef(props, 'field'));
const found = computed(() => (members.value ?? []).filter(({ label }) => label.toLowerCase().includes(search.value.trim().toLowerCase())));
const toggle = (member: string): void =>
  emit('change', props.chosen.includes(member) ? props.chosen.filter((one) => one !== member) : [...props.chosen, member]);
</script>

<template>
  <div class="members">
    <input v-model="search" class="entry" type="search" :placeholder="`Find among ${members?.length ?? '…'}`" aria-label="Find a member" />
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
