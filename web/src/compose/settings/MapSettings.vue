<script setup lang="ts">
import { keptAssetSchema } from '@bold-compass/core/api';
import { LOCALE, countWords } from '@bold-compass/core/format';
import { assetId, MOST_ASSET_BYTES, SHAPES_TYPE, type Chart, type MapSettings } from '@bold-compass/core/model';
import { parseShapes, propertiesOf, shapesByName } from '@bold-compass/core/shapes';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { ApiProblem, ask } from '../../api/client.ts';
import { tileServerQuestion } from '../../chart/tile-server-query.ts';
import { fetchShapes, shapesKey } from '../../chart/shapes-query.ts';
import { shownFigures } from '../../chart/shown-figures.ts';
import { useCompose } from '../context.ts';
import { dataUrlOf } from '../data-url.ts';
import SettingsSection from './SettingsSection.vue';

/** What a map is made of: countries or own shapes, and how further measures are shown on them. */
const props = defineProps<{ exhibit: Chart }>();
const { change, report } = useCompose();
const map = computed(() => props.exhibit.chart.map);
const set = (part: Partial<MapSettings>): void =>
  change({ ...props.exhibit, chart: { ...props.exhibit.chart, map: { ...map.value, ...part } } });

/** The members that shapes are wanted for, by their labels and by themselves. */
const names = computed(() =>
  (shownFigures.get(props.exhibit.id)?.categories ?? []).flatMap(({ label, header }) => [label, header?.path.at(-1) ?? label]),
);
const kept = computed(() => map.value.shapes && assetId(map.value.shapes.source));
const { data: file } = useQuery({
  queryKey: computed(() => shapesKey(report.value.id, kept.value ?? '')),
  queryFn: ({ signal }) => fetchShapes(report.value.id, kept.value ?? '', signal),
  enabled: computed(() => !!kept.value),
  staleTime: Infinity,
  shallow: true,
});
const { data: tileServer } = useQuery(tileServerQuestion);
const properties = computed(() => (file.value ? propertiesOf(file.value, names.value) : []));
const named = computed(() =>
  file.value && map.value.shapes
    ? countWords(shapesByName(file.value, map.value.shapes.key).size, { one: 'shape has a name', many: 'shapes have names' }, LOCALE)
    : '',
);

const message = ref('');
const sending = ref(false);
async function takeShapes(chosen: File | File[] | null): Promise<void> {
  const [own] = [chosen].flat();
  if (!own) return;
  message.value = '';
  if (own.size > MOST_ASSET_BYTES) {
    message.value = 'This file has more than five megabytes. Simplify its outlines and choose it again.';
    return;
  }
  sending.value = true;
  try {
    const read = parseShapes(await own.text());
    const found = 'shapes' in read ? propertiesOf(read.shapes, names.value) : [];
    if ('problem' in read) message.value = read.problem;
    else if (found.length === 0) message.value = 'The shapes have no property that could name them.';
    else {
      const url = await dataUrlOf(new Blob([own], { type: SHAPES_TYPE }));
      const { source } = await ask(keptAssetSchema, 'POST', '/assets', { source: url });
      set({ shapes: { source, key: found[0].property } });
    }
  } catch (failure) {
    message.value = failure instanceof ApiProblem ? failure.message : 'This file cannot be read. Choose another one.';
  } finally {
    sending.value = false;
  }
}
const words = ({ property, matches }: { property: string; matches: number }): string =>
  `${property} (${countWords(matches, { one: 'member', many: 'members' }, LOCALE)})`;
</script>

<template>
  <SettingsSection title="Map" open>
    <v-checkbox
      label="Points by latitude and longitude"
      hint="The first two measures are latitude and longitude, then size and colour."
      persistent-hint
      :model-value="map.points"
      @update:model-value="set({ points: $event ?? false })"
    />
    <v-select
      v-if="!map.points && (exhibit.cells.length > 1 || exhibit.top.fields.length > 0)"
      label="Further measures"
      :model-value="map.marks"
      :items="[
        { value: 'rings', title: 'Rings' },
        { value: 'columns', title: 'Columns' },
        { value: 'pies', title: 'Pies' },
      ]"
      @update:model-value="set({ marks: $event as MapSettings['marks'] })"
    />
    <p class="shapes">
      {{ map.shapes ? `Own shapes: ${named}` : 'Shapes: countries of the world' }}
      <v-btn v-if="map.shapes" variant="plain" class="inline" @click="set({ shapes: undefined })">Back to countries</v-btn>
    </p>
    <v-select
      v-if="map.shapes && properties.length > 0"
      label="Key"
      :model-value="map.shapes.key"
      :items="properties.map((own) => ({ value: own.property, title: words(own) }))"
      @update:model-value="set({ shapes: { ...map.shapes, key: $event } })"
    />
    <v-file-input label="GeoJSON file" accept=".geojson,.json,application/geo+json" :loading="sending" @update:model-value="takeShapes" />
    <v-checkbox
      label="Background tiles"
      :disabled="!tileServer?.isSet && !map.tiles"
      :hint="tileServer?.isSet === false ? 'No tile server is set: a steward sets one under Data.' : undefined"
      :persistent-hint="tileServer?.isSet === false"
      :model-value="map.tiles"
      @update:model-value="set({ tiles: $event ?? false })"
    />
    <p v-if="message" class="problem" role="alert">{{ message }}</p>
  </SettingsSection>
</template>

<style scoped>
.shapes {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: 13px;
  margin: 0;
}
.problem {
  color: var(--off-text);
  font-size: 13px;
  margin: 0;
}
</style>
