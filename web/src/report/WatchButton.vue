<script setup lang="ts">
import type { Watched } from '@bold-compass/core/api';
import { mdiBellOutline, mdiBellRing } from '@mdi/js';
import { computed } from 'vue';
import { useReport } from './context.ts';
import { useWatching } from './watching.ts';

/** Asks to be told when a figure changes its state, or not any more. */
const props = defineProps<{ exhibit: string; watched: Watched; label: string; words?: boolean }>();
const { view, draft } = useReport();
const { watchOf, toggle, message } = useWatching();
const isWatched = computed(() => watchOf.value(props.exhibit, props.watched) !== null);
const title = computed(() => (isWatched.value ? `Stop watching ${props.label}` : `Tell me when ${props.label} changes its state`));
</script>

<template>
  <span v-if="view.edition !== null && !draft" class="watch">
    <v-btn
      v-if="words"
      variant="text"
      class="only"
      :prepend-icon="isWatched ? mdiBellRing : mdiBellOutline"
      :aria-pressed="isWatched"
      :title="title"
      @click="toggle(exhibit, watched, label)"
      >{{ isWatched ? 'Watched' : 'Watch' }}</v-btn
    >
    <v-btn
      v-else
      variant="text"
      size="x-small"
      class="bell"
      :class="{ watched: isWatched }"
      :icon="isWatched ? mdiBellRing : mdiBellOutline"
      :aria-label="title"
      :title="title"
      :aria-pressed="isWatched"
      @click="toggle(exhibit, watched, label)"
    />
    <span v-if="message" class="problem" role="alert">{{ message }}</span>
  </span>
</template>

<style scoped>
.watch .bell {
  width: 26px;
  height: 26px;
  color: var(--ink-2);
}
.watch .watched {
  color: var(--brass);
}
.only {
  padding-inline: 0;
}
.problem {
  color: var(--off-text);
  font-size: 12.5px;
}
</style>
