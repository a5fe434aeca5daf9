<script setup lang="ts">
import type { Finding } from '@bold-compass/core/api';
import FoldedPart from '../shell/FoldedPart.vue';

/** What the data says, in sentences with examples. */
defineProps<{ findings: Finding[] }>();
</script>

<template>
  <ul v-if="findings.length > 0" class="findings">
    <li v-for="(finding, index) in findings" :key="index" :class="finding.kind">
      {{ finding.words }}
      <FoldedPart v-if="finding.examples.length > 0" title="Which">
        <p>{{ finding.examples.join(' · ') }}</p>
      </FoldedPart>
    </li>
  </ul>
</template>

<style scoped>
.findings {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  display: grid;
  gap: 6px;
  font-size: 13px;
}
li {
  border-left: 3px solid var(--on);
  padding-left: 9px;
}
li.notice {
  border-color: var(--drift);
}
li.refused {
  border-color: var(--off);
}
</style>
