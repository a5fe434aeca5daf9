<script setup lang="ts">
import type { LegendLine } from '@bold-compass/core/table';

/** What the marks of a cross-tab say, under it. */
defineProps<{ lines: LegendLine[] }>();
defineEmits<{ order: [measure: string] }>();
</script>

<template>
  <ul class="legend" aria-label="Legend">
    <li v-for="(line, index) in lines" :key="index">
      <span
        v-if="line.mark?.kind === 'rule'"
        class="swatch"
        :class="[`tone-${line.mark.tone}`, `look-${line.mark.look}`]"
        aria-hidden="true"
        >{{ line.mark.look === 'ground' ? '' : '12' }}</span
      >
      <span v-else-if="line.mark?.kind === 'shade'" class="swatch" :class="`shades-${line.mark.colours}`" aria-hidden="true" />
      <span
        ><template v-if="line.about && line.about !== lines[index - 1]?.about"
          ><b>{{ line.about }}</b> · </template
        >{{ line.words }}</span
      >
      <v-btn v-if="line.stateOrder" variant="plain" class="inline" @click="$emit('order', line.stateOrder)">Worst first</v-btn>
    </li>
  </ul>
</template>

<style scoped>
.legend {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 7px 0 0;
  padding: 0;
  font-size: 12.5px;
  color: var(--ink-2);
}
li {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.swatch {
  min-width: 22px;
  height: 14px;
  line-height: 14px;
  border-radius: 2px;
  text-align: center;
}
.shades-one {
  background: linear-gradient(90deg, var(--paper), color-mix(in srgb, var(--sea) 40%, var(--paper)));
}
.shades-two {
  background: linear-gradient(
    90deg,
    color-mix(in srgb, var(--off) 40%, var(--paper)),
    var(--paper),
    color-mix(in srgb, var(--sea) 40%, var(--paper))
  );
}
</style>
