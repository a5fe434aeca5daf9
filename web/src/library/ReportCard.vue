<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import type { ReportSummary } from '@bold-compass/core/api';
import { withBlanks } from '@bold-compass/core/exhibits';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { mdiDotsHorizontal, mdiStar, mdiStarOutline } from '@mdi/js';
import { computed, ref } from 'vue';
import ReportThumbnail from './ReportThumbnail.vue';

/** A report in the library: what it is and looks like, and for those who compose, what can be done with it. */
const props = defineProps<{ report: ReportSummary; composes: boolean }>();
defineEmits<{ mark: []; rename: []; copy: []; save: []; remove: [] }>();

/** Values in braces are there once the first page is drawn. */
const filled = ref<string>();
const title = computed(() => filled.value ?? withBlanks(props.report.title));
const day = (stamp: string): string => dayLabel(parseIsoDate(stamp.slice(0, 10))!, LOCALE);
const edition = computed(() => {
  const { edition: number, updatedAt, publishedAt } = props.report;
  return number === null ? `Draft, changed ${day(updatedAt)}` : `Edition ${number}, ${day(publishedAt!)}`;
});
</script>

<template>
  <div class="card">
    <RouterLink class="report" :to="{ name: 'report', params: { report: report.id } }">
      <ReportThumbnail
        v-model:title="filled"
        :report="report.id"
        :version="`${report.edition} ${report.updatedAt}`"
        :kinds="report.kinds"
      />
      <span class="title serif">{{ title }}</span>
      <span class="note">{{ report.note }}</span>
      <span class="edition">{{ edition }}</span>
    </RouterLink>
    <v-btn
      :icon="report.favourite ? mdiStar : mdiStarOutline"
      variant="text"
      size="small"
      :class="{ set: report.favourite }"
      :aria-pressed="report.favourite"
      :aria-label="`Favourite: ${title}`"
      class="star"
      @click="$emit('mark')"
    />
    <v-menu v-if="composes" location="bottom end" :offset="4">
      <template #activator="{ props: activator }">
        <v-btn
          :icon="mdiDotsHorizontal"
          variant="text"
          size="small"
          v-bind="activator"
          :aria-owns="undefined"
          :aria-label="`More for ${title}`"
          class="dots"
        />
      </template>
      <v-list role="menu">
        <v-list-item role="menuitem" :to="{ name: 'report', params: { report: report.id }, query: { compose: '' } }" title="Compose" />
        <v-list-item role="menuitem" title="Rename or move" @click="$emit('rename')" />
        <v-list-item role="menuitem" title="Make a copy" @click="$emit('copy')" />
        <v-list-item role="menuitem" title="Export report file" @click="$emit('save')" />
        <v-list-item role="menuitem" title="Delete report" @click="$emit('remove')" />
      </v-list>
    </v-menu>
  </div>
</template>

<style scoped>
.card {
  position: relative;
  border-bottom: 1px solid var(--rule);
}
.card:hover {
  background: var(--sea-tint);
}
.report {
  display: grid;
  grid-template-columns: 168px 1fr auto;
  gap: 2px 20px;
  padding: 10px 84px 11px 8px;
  text-decoration: none;
  color: var(--ink);
}
.report > :first-child {
  grid-row: span 2;
}
.title {
  font-size: 18px;
  align-self: end;
}
.note {
  grid-column: 2;
  grid-row: 2;
  color: var(--ink-2);
}
.edition {
  grid-column: 3;
  grid-row: 1 / span 2;
  color: var(--ink-2);
  font-size: 13px;
  align-self: center;
}
.star,
.dots {
  position: absolute;
  top: calc(50% - 14px);
  right: 42px;
  min-width: 28px;
  min-height: 28px;
  color: var(--ink-2);
}
.dots {
  right: 8px;
}
.star.set {
  color: var(--brass);
}
@media (max-width: 700px) {
  .report {
    grid-template-columns: 1fr;
    padding-right: 44px;
  }
  .report > :first-child {
    display: none;
  }
  .note,
  .edition {
    grid-column: 1;
    grid-row: auto;
  }
  .star {
    right: 8px;
  }
}
</style>
