<script setup lang="ts">
import { pictureId, type Image } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useReport } from './context.ts';

/** A picture that is kept beside the report, or that the report holds itself. */
const props = defineProps<{ exhibit: Image }>();
const { report } = useReport();
const address = computed(() => {
  const id = pictureId(props.exhibit.source);
  return id === null ? props.exhibit.source : `/api/reports/${encodeURIComponent(report.value.id)}/pictures/${id}`;
});
</script>

<template>
  <img class="picture" :src="address" :alt="exhibit.words" />
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
