<script setup lang="ts">
import type { Image } from '@bold-compass/core/model';
import { useReport } from './context.ts';
import { computed } from 'vue';
import { useLinks } from './links.ts';
import { pictureAddress } from './picture-address.ts';

/** A picture that is kept beside the report, or that the report holds itself. */
const props = defineProps<{ exhibit: Image }>();
const { report, composing } = useReport();
const { readyLink, hrefOf, follow } = useLinks();
const link = computed(() => props.exhibit.link && readyLink(props.exhibit, props.exhibit.link, { scope: props.exhibit.chooses }));
</script>

<template>
  <a
    v-if="link && !composing"
    :href="hrefOf(link)"
    class="leads"
    :aria-label="link.label"
    rel="noopener noreferrer"
    @click.exact.prevent="follow(link)"
  >
    <img class="picture" :src="pictureAddress(report.id, exhibit.source)" :alt="exhibit.words" />
    <span>{{ link.label }}</span>
  </a>
  <img v-else class="picture" :src="pictureAddress(report.id, exhibit.source)" :alt="exhibit.words" />
</template>

<style scoped>
.picture {
  display: block;
  max-width: 100%;
  max-height: 100%;
  margin-top: 16px;
  object-fit: contain;
}
.leads {
  display: inline-block;
  color: var(--ink);
  text-decoration: none;
}
.leads span {
  display: inline-block;
  margin-top: 4px;
  border-bottom: 1.2px dotted var(--brass-line);
}
</style>
