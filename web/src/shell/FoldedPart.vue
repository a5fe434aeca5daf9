<script setup lang="ts">
import { mdiMinus, mdiPlus } from '@mdi/js';

/** A small part of a page that unfolds at its title. */
defineProps<{ title?: string }>();
</script>

<template>
  <v-expansion-panels class="folded-part">
    <v-expansion-panel>
      <v-expansion-panel-title :expand-icon="mdiPlus" :collapse-icon="mdiMinus">
        <slot name="title">{{ title }}</slot>
      </v-expansion-panel-title>
      <v-expansion-panel-text><slot /></v-expansion-panel-text>
    </v-expansion-panel>
  </v-expansion-panels>
</template>
