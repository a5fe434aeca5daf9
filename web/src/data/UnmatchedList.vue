<script setup lang="ts">
import type { Unmatched } from '@bold-compass/core/api';
import { computed, ref } from 'vue';
import { figure } from './use-import.ts';

/** Texts that no member has: each can be said to mean a member. What is said is remembered for the next file. */
defineProps<{ unmatched: Unmatched; column: string }>();
const emit = defineEmits<{ correct: [level: string, corrections: { text: string; member: string }[]] }>();

const said = ref<Record<string, string>>({});
const corrections = computed(() =>
  Object.entries(said.value)
    .filter(([, member]) => member !== '')
    .map(([text, member]) => ({ text, member })),
);
</script>

<template>
  <section class="unmatched">
    <p>
      <strong>{{ column }}:</strong> {{ figure(unmatched.total) }} {{ unmatched.total === 1 ? 'text names' : 'texts name' }} no member of
      {{ unmatched.levelLabel }}, in {{ figure(unmatched.records) }} records. As they are, those records have no
      {{ unmatched.levelLabel.toLowerCase() }}.
    </p>
    <table>
      <tbody>
        <tr v-for="{ text, count, near } in unmatched.texts" :key="text">
          <td>“{{ text }}”</td>
          <td class="number">{{ figure(count) }}</td>
          <td>
            <v-select
              v-model="said[text]"
              :aria-label="`${text} means`"
              :items="[
                { value: '', title: 'No member' },
                ...near.map((member) => ({
                  value: member.key,
                  title: `${member.label}${member.label === member.key ? '' : ` (${member.key})`}`,
                })),
              ]"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <v-btn :disabled="corrections.length === 0" @click="emit('correct', unmatched.level, corrections)">
      Remember this, and match again
    </v-btn>
  </section>
</template>

<style scoped>
.unmatched {
  border-left: 3px solid var(--brass-line);
  padding: 2px 0 6px 12px;
  margin-top: 8px;
}
table {
  border-collapse: collapse;
  margin: 6px 0;
}
td {
  padding: 2px 16px 2px 0;
}
.number {
  text-align: right;
}
</style>
