<script setup lang="ts" generic="Value extends string | number">
/** A few choices as words in a line, pressed where they hold. */
defineProps<{
  label: string;
  choices: readonly { value: Value; title: string }[];
  isChosen: (value: Value) => boolean;
  /** What stands before them; nothing where it is left out. */
  words?: string;
}>();
defineEmits<{ choose: [value: Value] }>();
</script>

<template>
  <span class="choices" role="group" :aria-label="label">
    <span v-if="words" class="muted" aria-hidden="true">{{ words }}</span>
    <v-btn
      v-for="{ value, title } in choices"
      :key="value"
      class="inline"
      variant="plain"
      :aria-pressed="isChosen(value)"
      @click="$emit('choose', value)"
      >{{ title }}</v-btn
    >
  </span>
</template>

<style scoped>
.choices {
  display: inline-flex;
  align-items: center;
  gap: 7px;
}
.choices .v-btn[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 700;
  text-decoration: none;
}
</style>
