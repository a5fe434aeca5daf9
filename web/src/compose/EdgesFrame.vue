<script setup lang="ts">
/** How the edges of an exhibit stand around its figures: some in a line above them, one beside them, some in a line below. */
</script>

<template>
  <div class="edges">
    <div class="line"><slot name="above" /></div>
    <slot name="beside" />
    <div class="figures"><slot /></div>
    <div v-if="$slots.below" class="line below"><slot name="below" /></div>
  </div>
</template>

<style scoped>
.edges {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 4px 8px;
}
.line {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 20px;
}
.line > :deep(.swap) {
  margin-left: auto;
}
.below {
  padding-left: 42px;
}
.figures {
  min-width: 0;
}
.figures :deep(.exhibit) {
  margin-top: 2px;
}
</style>
