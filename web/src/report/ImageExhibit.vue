<script setup lang="ts">
import type { Image } from '@bold-compass/core/model';
import { useReport } from './context.ts';
import { pictureAddress } from './picture-address.ts';

/** A picture that is kept beside the report, or that the report holds itself. */
defineProps<{ exhibit: Image }>();
const { report } = useReport();
</script>

<template>
  <img class="picture" :src="pictureAddress(report.id, exhibit.source)" :alt="exhibit.words" />
</template>

<style scoped>
.picture {
  display: block;
  max-width: 100%;
  max-height: 100%;
  margin-top: 16px;
  object-fit: contain;
}
</style>
