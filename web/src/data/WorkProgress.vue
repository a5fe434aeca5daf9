<script setup lang="ts">
/** Long work, with how far it is and a way to stop it. */
defineProps<{ what: string; share: number }>();
const emit = defineEmits<{ cancel: [] }>();
</script>

<template>
  <div class="work" role="status">
    <span>{{ what }} …</span>
    <progress :value="share" max="1" :aria-label="what" />
    <span class="percent">{{ Math.floor(share * 100) }} %</span>
    <v-btn @click="emit('cancel')">Cancel</v-btn>
  </div>
</template>

<style scoped>
.work {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 8px 0;
}
progress {
  flex: 1;
  max-width: 420px;
  height: 6px;
  appearance: none;
  border: 0;
  background: var(--rule);
  border-radius: 3px;
  overflow: hidden;
}
progress::-webkit-progress-bar {
  background: var(--rule);
}
progress::-webkit-progress-value {
  background: var(--sea);
}
progress::-moz-progress-bar {
  background: var(--sea);
}
.percent {
  min-width: 40px;
}
</style>
