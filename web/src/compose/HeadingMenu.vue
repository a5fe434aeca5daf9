<script setup lang="ts">
import type { Crosstab } from '@bold-compass/core/model';
import CalculateMenu from './CalculateMenu.vue';
import { useCompose } from './context.ts';
import { removeCell } from './edges.ts';
import { useMenuAt } from './menu-at.ts';

/** The menu of a measure's heading: what is calculated from it, inserted beside it. */
const props = defineProps<{ exhibit: Crosstab; index: number; target: [number, number] }>();
const emit = defineEmits<{ close: [] }>();
const { change, selection } = useCompose();
const { isOpen, own } = useMenuAt(
  () => props.exhibit,
  () => emit('close'),
);
</script>

<template>
  <v-menu v-model="isOpen" :target="target" location="bottom start" :close-on-content-click="true">
    <v-list v-if="own" role="menu" :aria-label="`Heading ${index + 1}`">
      <v-list-item role="menuitem" title="Settings" @click="selection = { exhibit: own.id, part: { kind: 'cell', index } }" />
      <CalculateMenu :exhibit="own" :index="index" />
      <v-list-item role="menuitem" title="Remove" @click="change(removeCell(own, index))" />
    </v-list>
  </v-menu>
</template>
