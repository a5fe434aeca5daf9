<script setup lang="ts">
/** The right edge of a heading: drawn to a width, or moved with the arrow keys; a double click fits it again. */
defineProps<{ words: string; width: number }>();
defineEmits<{ begin: [event: PointerEvent]; fit: []; key: [event: KeyboardEvent] }>();
</script>

<template>
  <span
    class="resize"
    role="separator"
    aria-orientation="vertical"
    :aria-label="`Width of ${words}`"
    :aria-valuenow="width"
    tabindex="0"
    @pointerdown.stop="$emit('begin', $event)"
    @dblclick.stop="$emit('fit')"
    @keydown="$emit('key', $event)"
  />
</template>

<style scoped>
.resize {
  position: absolute;
  top: 3px;
  bottom: 3px;
  right: -4px;
  width: 9px;
  cursor: col-resize;
  touch-action: none;
}
.resize:hover,
.resize:focus-visible {
  background: linear-gradient(var(--sea), var(--sea)) center / 2px 100% no-repeat;
}
</style>
