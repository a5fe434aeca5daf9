<script setup lang="ts">
import { plainMemberLabel } from '@bold-compass/core/format';
import { fieldLabel, fieldPlural, type Dataset, type Scope } from '@bold-compass/core/model';
import { computed } from 'vue';
import { LOCALE } from '../../report/state-words.ts';
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
      <button type="button" class="link" :aria-label="`Not ${labelOf(member, level)}`" @click="emit('change', path.slice(0, level))">
        Remove
      </button>
    </p>
    <AddChoice
      v-if="path.length < fields.length"
      :label="`${words}: ${fieldLabel(dataset, fields[path.length]).toLowerCase()}`"
      :words="path.length === 0 ? `all ${fieldPlural(dataset, fields[0])}` : 'the whole of it'"
      @add="emit('change', [...path, $event])"
    >
      <option v-for="{ member, label } in below ?? []" :key="member" :value="member">{{ label }}</option>
    </AddChoice>
  </div>
</template>

<style scoped>
.path {
  display: grid;
  gap: 3px;
  font-size: 13px;
}
.choice {
  max-width: none !important;
  width: 100%;
}
.step {
  display: flex;
  justify-content: space-between;
  margin: 0;
}
</style>
