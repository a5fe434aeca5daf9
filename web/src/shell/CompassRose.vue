<script setup lang="ts">
/** The logo: a compass rose with one bold needle. */
defineProps<{ size: number }>();
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 48 48" aria-hidden="true" focusable="false">
    <path class="points" d="M44 24 27 21.2 24 24l3 2.8zM4 24l17 2.8L24 24l-3-2.8zM24 44l2.8-17L24 24l-2.8 3z" />
    <path class="needle" d="M24 3 29 21 24 24 19 21z" />
    <circle class="hub" cx="24" cy="24" r="2.4" />
  </svg>
</template>

<style scoped>
.points {
  fill: var(--rose);
}
.needle {
  fill: var(--needle);
}
.hub {
  fill: var(--rail);
}
</style>
