<script setup lang="ts">
import { soundGroups } from '@bold-compass/core/crosstab';
import { fieldLabel, type Dataset, type MemberGroup } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { ref, watch } from 'vue';
import { withNewGroup } from '../member-groups.ts';
import MembersEditor from './MembersEditor.vue';
import SettingsSection from './SettingsSection.vue';

/** Members of a level that are shown as one line: together, or some less some others. */
const props = defineProps<{ dataset: Dataset; field: string; groups: MemberGroup[]; shown?: string }>();
const emit = defineEmits<{ change: [groups: MemberGroup[]] }>();
/** The group whose members are seen, at first the one that is asked for. */
const opened = ref('');
watch(
  () => props.shown,
  (id) => id && (opened.value = id),
  { immediate: true },
);

const setOne = (id: string, part: Partial<MemberGroup>): void =>
  emit(
    'change',
    props.groups.map((group) => (group.id === id ? { ...group, ...part } : group)),
  );
function add(): void {
  const added = withNewGroup(props.groups, { label: `Group ${props.groups.length + 1}`, members: [] });
  emit('change', added.groups);
  opened.value = added.id;
}
/** Whether it stands in the place of its members, which one that shares some with a group before it cannot. */
const replaces = ({ id }: MemberGroup): boolean => soundGroups(props.groups).some((one) => one.id === id && one.instead);
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
function setLess(group: MemberGroup, less: string[]): void {
  // A difference stands beside its members: it counts nothing of its own.
  setOne(group.id, less.length > 0 ? { less, instead: false } : { less: undefined });
}
</script>

<template>
  <SettingsSection title="Groups of members" :about="groups.length > 0 ? String(groups.length) : ''" :open="groups.length > 0">
    <div v-for="group in groups" :key="group.id" class="group">
      <div class="line">
        <v-btn variant="text" class="name" :aria-expanded="opened === group.id" @click="opened = opened === group.id ? '' : group.id">{{
          group.label
        }}</v-btn>
        <v-btn
          :icon="mdiClose"
          variant="text"
          size="small"
          :aria-label="`Remove ${group.label}`"
          @click="
            emit(
              'change',
              groups.filter(({ id }) => id !== group.id),
            )
          "
        />
      </div>
      <template v-if="opened === group.id">
        <v-text-field
          label="Name"
          :model-value="group.label"
          maxlength="80"
          @change="textOf($event) && setOne(group.id, { label: textOf($event) })"
        />
        <p class="muted">{{ fieldLabel(dataset, field) }} members</p>
        <MembersEditor :field="field" :dataset="dataset.name" :chosen="group.members" @change="setOne(group.id, { members: $event })" />
        <v-checkbox
          label="Replace its members"
          :model-value="replaces(group)"
          :disabled="(group.less?.length ?? 0) > 0"
          :hint="
            group.instead && !replaces(group) && !group.less?.length
              ? 'It shares members with a group before it, so it stands beside them.'
              : undefined
          "
          persistent-hint
          @update:model-value="setOne(group.id, { instead: Boolean($event) })"
        />
        <v-expansion-panels class="less">
          <v-expansion-panel :title="group.less?.length ? `Subtract ${group.less.length}` : 'Subtract members'">
            <v-expansion-panel-text>
              <MembersEditor :field="field" :dataset="dataset.name" :chosen="group.less ?? []" @change="setLess(group, $event)" />
            </v-expansion-panel-text>
          </v-expansion-panel>
        </v-expansion-panels>
      </template>
    </div>
    <v-btn variant="text" @click="add">Add group</v-btn>
  </SettingsSection>
</template>

<style scoped>
.group {
  display: grid;
  gap: 6px;
  border-left: 3px solid var(--sea-tint);
  padding-left: 6px;
}
.line {
  display: flex;
  justify-content: space-between;
}
.name {
  flex: 1;
  min-width: 0;
  justify-content: start;
}
.muted {
  margin: 0;
  font-size: 12.5px;
}
</style>
