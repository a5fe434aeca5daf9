<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import { openByKey } from '@bold-compass/core/exhibits';
import { isBranched, isCombined, pathKey, placedOnSide } from '@bold-compass/core/crosstab';
import { samePath } from '@bold-compass/core/table';
import { fieldLabel, isCellExhibit, type CellExhibit, type Scope } from '@bold-compass/core/model';
import { computed, ref } from 'vue';
import type { LocationQueryRaw } from 'vue-router';
import { useReport } from '../report/context.ts';
import { openByQuery, openQuery, readCrosstabState, toggled } from '../report/url-state.ts';

/** What can be done with the member of a row: make it the whole of what is shown, or open its level by another one. */
const props = defineProps<{ exhibit: CellExhibit; header: Pick<Header, 'path' | 'labels'>; target: [number, number] }>();
const emit = defineEmits<{ close: [] }>();
const { report, view, scope, choices, setScope, navigate, address } = useReport();

const words = computed(() => props.header.labels.at(-1) ?? '');
/** The exhibit as it is written, before its reader opened members by other levels. */
const written = computed(() => report.value.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === props.exhibit.id));
const members = computed((): Scope | null => {
  const placed = placedOnSide(props.exhibit, props.header.path);
  if (!placed || placed.path.length === 0 || placed.path.some((member) => member === null || isCombined(member))) return null;
  return Object.fromEntries(placed.path.map((member, level) => [placed.fields[level], [member!]]));
});
/** The level below, as it is written, and what may stand in its place. */
const below = computed(() =>
  members.value && !isBranched(props.header.path) ? written.value?.side.fields[props.header.path.length] : undefined,
);
/** The level that its own members are of now. */
const now = computed(() => {
  const { path } = props.header;
  const own = props.exhibit.side.branches?.find((branch) => samePath(branch.path, path));
  return (own ?? props.exhibit.side).fields[path.length];
});
/** Whether a level is chosen for this member alone. */
const alone = ref(props.exhibit.side.branches?.some(({ path }) => samePath(path, props.header.path)) ?? false);
const offered = computed(() => {
  const taken = new Set([...props.exhibit.side.fields, ...props.exhibit.top.fields]);
  return view.value.dataset.dimensions.flatMap((dimension) => {
    if (dimension.kind === 'table' && dimension.tree) return [];
    return dimension.levels.filter(({ name }) => !taken.has(name)).map(({ name, label }) => ({ name, label }));
  });
});
const isChanged = computed(() => (choices.value[openByKey(props.exhibit.id)] ?? []).length > 0);
/** Opens its member by another level, or all members beside it too; null for the usual one. */
function openBy(to: string | null): void {
  const { path } = props.header;
  if (below.value && written.value) {
    // What is opened for one member alone stands in the place of the level that all have now.
    const from = alone.value ? props.exhibit.side.fields[path.length] : below.value;
    const chosen = { from, to: to === from ? null : to, path: alone.value ? path : null };
    navigate({ ...openByQuery(written.value, choices.value, chosen), ...opening() }, 'step');
  }
  emit('close');
}
/** What is to be seen below it stands open. */
function opening(): LocationQueryRaw {
  const { open } = readCrosstabState(props.exhibit, address.value).side;
  const { path } = props.header;
  const isOpen = path.length <= open.depth !== open.exceptions.includes(pathKey(path));
  return isOpen ? {} : openQuery(props.exhibit, 'side', toggled(open, [...path]));
}
function showOnly(): void {
  if (members.value) setScope({ ...scope.value, ...members.value });
  emit('close');
}
</script>

<template>
  <v-menu :model-value="true" :target="target" max-height="420" @update:model-value="emit('close')">
    <v-list role="menu" :aria-label="words">
      <v-list-item v-if="members" role="menuitem" :title="`Show only ${words}`" @click="showOnly" />
      <template v-if="below && now">
        <v-list-subheader>Drill down by</v-list-subheader>
        <v-checkbox v-model="alone" :label="`${words} only`" class="alone" @click.stop />
        <v-list-item v-if="now !== below" role="menuitem" :title="fieldLabel(view.dataset, below)" @click="openBy(alone ? below : null)" />
        <v-list-item role="menuitem" :title="fieldLabel(view.dataset, now)" active @click="emit('close')" />
        <v-list-item v-for="{ name, label } in offered" :key="name" role="menuitem" :title="label" @click="openBy(name)" />
      </template>
      <v-list-item
        v-if="isChanged"
        role="menuitem"
        title="Reset levels"
        @click="
          navigate({ [openByKey(exhibit.id)]: undefined }, 'step');
          emit('close');
        "
      />
    </v-list>
  </v-menu>
</template>

<style scoped>
.alone {
  padding: 0 10px;
}
</style>
