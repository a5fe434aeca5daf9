<script setup lang="ts">
/** Opens and closes a member: a small ring with + or −. */
defineProps<{ open: boolean; label: string }>();
const emit = defineEmits<{ toggle: [] }>();
</script>

<template>
  <button type="button" class="toggle" :aria-label="`${open ? 'Close' : 'Open'} ${label}`" @click.stop="emit('toggle')">
    {{ open ? '−' : '+' }}
  </button>
</template>

<style scoped>
.toggle {
  flex: none;
  position: relative;
  width: 15px;
  height: 15px;
  border: 1.2px solid var(--ink-2);
  border-radius: 50%;
  line-height: 11px;
  font-size: 13px;
  text-align: center;
  color: var(--ink);
  background: var(--sheet);
}
/* A target of 24 pixels around the small ring. */
.toggle::after {
  content: '';
  position: absolute;
  inset: -6px;
}
.toggle:hover {
  border-color: var(--sea);
  background: var(--sea-tint);
}
</style>
