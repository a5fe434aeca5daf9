<script setup lang="ts">
import { LOCALE, plainMemberLabel } from '@bold-compass/core/format';
import { fieldLabel, type Dataset, type Scope } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useMembers } from '../members.ts';
import AddChoice from '../../shell/AddChoice.vue';

/** A member of an axis, level by level: its path, empty for all of it. */
const props = defineProps<{ dataset: Dataset; fields: string[]; path: string[]; words: string }>();
const emit = defineEmits<{ change: [path: string[]] }>();

const name = computed(() => props.dataset.name);
const scope = computed((): Scope => Object.fromEntries(props.path.map((member, level) => [props.fields[level], [member]])));
/** The members below the path. */
const { members: below } = useMembers(
  name,
  computed(() => props.fields[props.path.length]),
  scope,
);
const { members: first } = useMembers(
  name,
  computed(() => props.fields[0]),
);
const labelOf = (member: string, level: number): string =>
  (level === 0 ? first.value?.find((one) => one.member === member)?.label : undefined) ??
  plainMemberLabel(props.dataset, LOCALE)(props.fields[level], member);
</script>

<template>
  <div v-if="fields.length > 0" class="path">
    <span class="muted">{{ words }}</span>
    <p v-for="(member, level) in path" :key="level" class="step">
      {{ labelOf(member, level) }}
      <v-btn variant="plain" :aria-label="`Not ${labelOf(member, level)}`" class="inline" @click="emit('change', path.slice(0, level))">
        Remove
      </v-btn>
    </p>
    <AddChoice
      v-if="path.length < fields.length"
      :label="`${words}: ${fieldLabel(dataset, fields[path.length]).toLowerCase()}`"
      :items="(below ?? []).map(({ member, label }) => ({ value: member, title: label }))"
      @add="emit('change', [...path, $event])"
    />
  </div>
</template>

<style scoped>
.path {
  display: grid;
  gap: 3px;
  font-size: 13px;
}
.step {
  display: flex;
  justify-content: space-between;
  margin: 0;
}
</style>
