<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import type { FieldChoice } from './edges.ts';

/** A menu to add something to an edge, with a search. */
const props = defineProps<{ label: string; choices: FieldChoice[] }>();
const emit = defineEmits<{ pick: [name: string] }>();
const open = ref(false);
const search = ref('');
const box = ref<HTMLInputElement | null>(null);

const groups = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const found = new Map<string, typeof props.choices>();
  for (const choice of props.choices) {
    if (wanted && !choice.words.toLowerCase().includes(wanted)) continue;
    found.set(choice.group, [...(found.get(choice.group) ?? []), choice]);
  }
  return [...found];
});
watch(open, async (isOpen) => {
  search.value = '';
  if (!isOpen) return;
  await nextTick();
  requestAnimationFrame(() => box.value?.focus());
});
function pick(name: string): void {
  open.value = false;
  emit('pick', name);
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom start" :offset="4" max-height="420">
    <template #activator="{ props: activator }">
      <button type="button" class="add" v-bind="activator" :aria-owns="undefined" :aria-label="label" :title="label">+</button>
    </template>
    <div class="menu-sheet picker">
      <input
        ref="box"
        v-model="search"
        type="search"
        placeholder="Find"
        :aria-label="`${label}: find`"
        @keydown.enter="groups[0] && pick(groups[0][1][0].name)"
      />
      <div v-for="[group, members] in groups" :key="group" role="group" :aria-label="group">
        <p class="group">{{ group }}</p>
        <button v-for="choice in members" :key="choice.name" type="button" class="menu-item" @click="pick(choice.name)">
          {{ choice.label }}
        </button>
      </div>
      <p v-if="groups.length === 0" class="group">
        {{ search ? `No field matches “${search}”.` : 'Everything is in the table already.' }}
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.add {
  width: 26px;
  height: 26px;
  border: 1.2px dashed var(--ink-2);
  border-radius: 50%;
  text-align: center;
  line-height: 1;
  color: var(--ink);
}
.add:hover {
  border-color: var(--sea);
  background: var(--sea-tint);
}
.picker {
  min-width: 220px;
  overflow-y: auto;
}
input {
  width: 100%;
  font: inherit;
  padding: 6px 10px;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
}
.group {
  margin: 8px 10px 2px;
  font-size: 12px;
  font-weight: 600;
  color: var(--ink-2);
}
</style>
