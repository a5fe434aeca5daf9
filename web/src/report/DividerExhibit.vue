<template>
  <hr class="divider" />
</template>

<style scoped>
.divider {
  border: 0;
  border-top: 1px solid var(--ink);
  margin: 18px 0 4px;
}
</style>
