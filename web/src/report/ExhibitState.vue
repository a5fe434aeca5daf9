<script setup lang="ts">
import { mdiAlertOutline, mdiEyeOffOutline, mdiFileSearchOutline, mdiResize } from '@mdi/js';

/** What stands in place of an exhibit, or a page, that has nothing to show: in plain words, with the next step. */
const props = defineProps<{ kind: 'loading' | 'empty' | 'failed' | 'too-large' | 'no-access'; title: string; message?: string }>();

const icons = { loading: '', empty: mdiFileSearchOutline, failed: mdiAlertOutline, 'too-large': mdiResize, 'no-access': mdiEyeOffOutline };
</script>

<template>
  <div class="state" :class="props.kind" :role="props.kind === 'failed' ? 'alert' : 'status'">
    <template v-if="props.kind === 'loading'">
      <span class="visually-hidden">{{ title }}</span>
      <span v-for="line in 6" :key="line" class="line" :class="`l${line}`" aria-hidden="true" />
    </template>
    <template v-else>
      <v-icon :icon="icons[props.kind]" size="28" aria-hidden="true" />
      <p class="title serif">{{ title }}</p>
      <p v-if="message" class="message">{{ message }}</p>
      <div class="next"><slot /></div>
    </template>
  </div>
</template>

<style scoped>
.state {
  padding: 36px 24px;
  display: flex;
  flex-direction: column;
  align-items: center;
  text-align: center;
  gap: 6px;
  color: var(--ink-2);
}
.state.failed .v-icon {
  color: var(--off);
}
.title {
  font-size: 18px;
  color: var(--ink);
  margin: 0;
}
.message {
  max-width: 46em;
  margin: 0;
}
.next {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  gap: 8px;
  margin-top: 8px;
}
.state.loading {
  align-items: stretch;
  gap: 14px;
  padding: 26px 0;
}
.line {
  height: 10px;
  border-radius: 3px;
  background: var(--rule-2);
  animation: breathe 1.4s ease-in-out infinite alternate;
}
.l2,
.l5 {
  width: 92%;
}
.l3 {
  width: 96%;
}
@keyframes breathe {
  from {
    opacity: 1;
  }
  to {
    opacity: 0.45;
  }
}
</style>
