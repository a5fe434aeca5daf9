<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import { inGroups, type Choice } from './choices.ts';

/** Adds one of many: a list that can be searched, which is empty again once something was chosen. */
const props = defineProps<{ label: string; items: readonly Choice[] }>();
const emit = defineEmits<{ add: [value: string] }>();
const chosen = ref<string | null>(null);
const search = ref('');
const items = computed(() => inGroups(props.items));
function add(value: string | null): void {
  if (value === null) return;
  emit('add', value);
  // What was chosen may be offered no more, and its words would stay.
  void nextTick(() => {
    chosen.value = null;
    search.value = '';
  });
}
</script>

<template>
  <v-autocomplete
    v-model="chosen"
    v-model:search="search"
    class="add-choice"
    :items="items"
    :placeholder="`${label} …`"
    :aria-label="label"
    :clear-on-select="true"
    no-data-text="Nothing matches"
    @update:model-value="add"
  />
</template>
