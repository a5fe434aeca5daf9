<script setup lang="ts">
import type { Dataset, MemberClasses } from '@bold-compass/core/model';
import { computed, ref, watch } from 'vue';
import { measureChoices } from '../edges.ts';
import SelectionFields from './SelectionFields.vue';
import SettingsSection from './SettingsSection.vue';

/** Members of a level put together in classes by how much of a measure they make. `across` are the fields of the other axis. */
const props = defineProps<{ dataset: Dataset; across: string[]; classes: MemberClasses | undefined; firstMeasure: string | undefined }>();
const emit = defineEmits<{ change: [classes: MemberClasses | undefined] }>();
const measures = computed(() => measureChoices(props.dataset));
function toggle(): void {
  const measure = props.firstMeasure ?? measures.value[0]?.name;
  emit('change', props.classes || !measure ? undefined : { measure, at: [], upTo: [80, 95], per: 'parent' });
}
const set = (part: Partial<MemberClasses>): void => emit('change', { ...props.classes!, ...part });

const written = ref('');
watch(
  () => props.classes?.upTo,
  (upTo) => (written.value = upTo?.join(', ') ?? ''),
  { immediate: true },
);
const message = ref('');
function takeBounds(): void {
  const bounds = written.value.split(/[,;\s]+/).filter((part) => part !== '');
  const upTo = bounds.map(Number);
  const isRising = upTo.every((bound, index) => bound > (upTo[index - 1] ?? 0) && bound < 100);
  if (upTo.length === 0 || upTo.length > 5 || !isRising) {
    message.value = 'One to five rising percentages below 100, as in: 80, 95';
    return;
  }
  message.value = '';
  set({ upTo });
}
</script>

<template>
  <SettingsSection
    title="Pareto classes"
    :about="classes ? 'A to ' + String.fromCharCode(65 + classes.upTo.length) : 'none'"
    :open="classes !== undefined"
  >
    <v-checkbox label="Group by class" :model-value="classes !== undefined" @update:model-value="toggle" />
    <template v-if="classes">
      <v-text-field
        v-model="written"
        label="Cumulative percent"
        hint="The largest members that make up 80 % are A, those up to 95 % B, the rest C."
        persistent-hint
        :error-messages="message"
        @change="takeBounds"
      />
      <SelectionFields :dataset="dataset" :across="across" :selection="classes" @change="set" />
    </template>
  </SettingsSection>
</template>
