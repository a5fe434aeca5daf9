<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import { groupKey, isBranched, isCombined } from '@bold-compass/core/crosstab';
import type { Crosstab, MemberGroup } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useCompose } from './context.ts';
import { setLevel, type Edge } from './edges.ts';
import { withMemberIn, withNewGroup } from './member-groups.ts';
import { useMenuAt } from './menu-at.ts';

/** The menu of a member while composing: shown together with others as one line, or what such a line is made of. */
const props = defineProps<{ exhibit: Crosstab; edge: Edge; header: Pick<Header, 'path' | 'labels'>; target: [number, number] }>();
const emit = defineEmits<{ close: [] }>();
const { change, selection } = useCompose();
const { isOpen, own } = useMenuAt(
  () => props.exhibit,
  () => emit('close'),
);

const member = computed(() => props.header.path.at(-1) ?? null);
const words = computed(() => props.header.labels.at(-1) ?? '');
/** The level that the member is of; none below one that its reader opened in another way. */
const field = computed(() => (isBranched(props.header.path) ? undefined : own.value?.[props.edge].fields[props.header.path.length - 1]));
const groups = computed(() => (field.value && own.value?.[props.edge].levels[field.value]?.groups) || []);
const group = computed(() => groups.value.find((one) => groupKey(one) === member.value));
const isPlain = computed(() => member.value !== null && !isCombined(member.value));

function show(id?: string): void {
  if (field.value)
    selection.value = { exhibit: props.exhibit.id, part: { kind: 'level', edge: props.edge, field: field.value, group: id } };
}
function set(changed: MemberGroup[], id: string): void {
  if (!own.value || !field.value) return;
  change(setLevel(own.value, props.edge, field.value, { groups: changed }));
  show(id);
}
function begin(): void {
  const added = withNewGroup(groups.value, { label: `${words.value} and others`, members: [member.value!] });
  set(added.groups, added.id);
}
</script>

<template>
  <v-menu v-model="isOpen" :target="target" location="bottom start">
    <v-list v-if="own && field" role="menu" :aria-label="words">
      <v-list-item v-if="group" role="menuitem" title="Edit group" @click="show(group.id)" />
      <template v-if="isPlain">
        <v-list-item role="menuitem" title="Group with others …" @click="begin" />
        <v-list-item
          v-for="one in groups.filter(({ members }) => !members.includes(member!))"
          :key="one.id"
          role="menuitem"
          :title="`Add to ${one.label}`"
          @click="set(withMemberIn(groups, one.id, member!), one.id)"
        />
      </template>
      <v-list-item role="menuitem" title="Settings of the level" @click="show()" />
    </v-list>
  </v-menu>
</template>
