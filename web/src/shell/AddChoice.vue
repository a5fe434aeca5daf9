<script setup lang="ts">
/** A choice that adds something: once chosen, it stands at its first words again. */
defineProps<{ label?: string; words: string }>();
const emit = defineEmits<{ add: [value: string] }>();
function take(event: Event): void {
  const select = event.target as HTMLSelectElement;
  const { value } = select;
  select.value = '';
  if (value !== '') emit('add', value);
}
</script>

<template>
  <select class="choice" value="" :aria-label="label" @change="take">
    <option value="">{{ words }}</option>
    <slot />
  </select>
</template>
