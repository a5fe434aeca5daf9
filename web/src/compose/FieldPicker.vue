<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import type { FieldChoice } from './edges.ts';
import { choicesInGroups } from './field-groups.ts';

/** A menu to add something to an edge, with a search. */
const props = defineProps<{ label: string; choices: FieldChoice[] }>();
const emit = defineEmits<{ pick: [choice: FieldChoice] }>();
const open = ref(false);
const search = ref('');
const box = ref<{ focus(): void } | null>(null);

const groups = computed(() => choicesInGroups(props.choices, search.value));
watch(open, async (isOpen) => {
  search.value = '';
  if (!isOpen) return;
  await nextTick();
  requestAnimationFrame(() => box.value?.focus());
});
function pick(choice: FieldChoice): void {
  open.value = false;
  emit('pick', choice);
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom start" :offset="4" max-height="420">
    <template #activator="{ props: activator }">
      <slot name="activator" :props="activator">
        <v-btn class="add" variant="text" v-bind="activator" :aria-owns="undefined" :aria-label="label" :title="label">+</v-btn>
      </slot>
    </template>
    <v-list role="menu" class="picker">
      <v-text-field
        ref="box"
        v-model="search"
        type="search"
        placeholder="Find"
        :aria-label="`${label}: find`"
        @keydown.enter="groups[0] && pick(groups[0].choices[0])"
      />
      <div v-for="{ group, choices: members } in groups" :key="group" role="group" :aria-label="group">
        <v-list-subheader>{{ group }}</v-list-subheader>
        <v-list-item v-for="choice in members" :key="choice.name" role="menuitem" :title="choice.label" @click="pick(choice)" />
      </div>
      <p v-if="groups.length === 0" class="group">
        {{ search ? `No field matches “${search}”.` : 'Everything is in the table already.' }}
      </p>
    </v-list>
  </v-menu>
</template>

<style scoped>
.add.v-btn {
  width: 26px;
  height: 26px;
  border: 1px dashed var(--ink-3);
  border-radius: 50%;
  padding: 0;
  color: var(--ink-2);
}
.picker {
  width: 250px;
}
.group {
  margin: 6px 10px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
