<script setup lang="ts">
import type { Image } from '@bold-compass/core/model';

/** A picture that the report holds itself. */
defineProps<{ exhibit: Image }>();
</script>

<template>
  <img class="picture" :src="exhibit.source" :alt="exhibit.words" />
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
