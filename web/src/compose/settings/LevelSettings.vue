<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { fieldLabel, fieldPlace, type Crosstab, type LevelSettings, type Order, type Pick } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { VueDraggable } from 'vue-draggable-plus';
import { ask } from '../../api/client.ts';
import { datasetOf, useCompose } from '../context.ts';
import { across, measureChoices, placeField, removeField, setLevel, shiftField, type Edge } from '../edges.ts';
import SettingsSection from './SettingsSection.vue';

/** A field on an edge: its order, its subtotals, and which of its members are shown. */
const props = defineProps<{ exhibit: Crosstab; edge: Edge; field: string }>();
const compose = useCompose();
const { report, change, selection } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const level = computed((): LevelSettings => props.exhibit[props.edge].levels[props.field] ?? { subtotal: true });
const set = (part: Partial<LevelSettings>): void => change(setLevel(props.exhibit, props.edge, props.field, part));
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const at = computed(() => props.exhibit[props.edge].fields.indexOf(props.field));
const isLast = computed(() => at.value === props.exhibit[props.edge].fields.length - 1);

/** Fields of the same dimension that members can be ordered by. */
const others = computed(() => {
  const place = fieldPlace(dataset.value, props.field);
  if (place.kind !== 'level') return [];
  return [...place.dimension.levels, ...place.dimension.attributes].filter(({ name }) => name !== props.field);
});
const order = computed((): Order | undefined => level.value.order);
const orderValue = computed(() => {
  const now = order.value;
  if (!now) return '';
  if (now.by === 'hand') return 'hand';
  return now.by === 'label' ? `label ${now.direction}` : now.by === 'field' ? `field ${now.field}` : `measure ${now.measure}`;
});
function setOrder(value: string): void {
  const direction = order.value && 'direction' in order.value ? order.value.direction : undefined;
  if (value === '') set({ order: undefined });
  else if (value === 'hand') set({ order: { by: 'hand', members: [] } });
  else if (value.startsWith('label ')) set({ order: { by: 'label', direction: value.slice(6) as 'asc' } });
  else if (value.startsWith('field ')) set({ order: { by: 'field', field: value.slice(6), direction: direction ?? 'asc' } });
  else set({ order: { by: 'measure', measure: value.slice(8), at: [], direction: direction ?? 'desc' } });
}
const turn = (direction: 'asc' | 'desc'): void => {
  if (order.value && order.value.by !== 'hand') set({ order: { ...order.value, direction } });
};

const { data: members } = useQuery({
  queryKey: computed(() => ['members to choose', report.value.id, dataset.value.name, props.field]),
  queryFn: ({ signal }) =>
    ask(
      membersResponseSchema,
      'POST',
      `/reports/${report.value.id}/members`,
      {
        field: props.field,
        scope: {},
        draft: true,
        ...(dataset.value.name === report.value.dataset ? {} : { dataset: dataset.value.name }),
      },
      signal,
    ),
  enabled: computed(() => order.value?.by === 'hand'),
  staleTime: 60_000,
});
/** Members in the order drawn by hand; those that were not drawn follow as they are. */
const byHand = computed(() => {
  const drawn = order.value?.by === 'hand' ? order.value.members : [];
  const rest = (members.value?.members ?? []).filter(({ member }) => !drawn.includes(member));
  const known = drawn.flatMap((member) => members.value?.members.find((one) => one.member === member) ?? []);
  return [...known, ...rest].slice(0, 300);
});
const drawOrder = (next: { member: string }[]): void => set({ order: { by: 'hand', members: next.map(({ member }) => member) } });
function step(index: number, by: -1 | 1): void {
  const next = [...byHand.value];
  const [one] = next.splice(index, 1);
  next.splice(index + by, 0, one);
  drawOrder(next);
}

const measures = computed(() => measureChoices(dataset.value));
function togglePick(): void {
  const first = props.exhibit.cells[0]?.measure ?? measures.value[0]?.name;
  const pick: Pick | undefined =
    level.value.pick || !first ? undefined : { count: 10, from: 'top', measure: first, at: [], per: 'parent', others: true };
  set({ pick });
}
const setPick = (part: Partial<Pick>): void => set({ pick: { ...level.value.pick!, ...part } });
</script>

<template>
  <p class="kind">{{ edge === 'side' ? 'Down the side' : 'Across the top' }}</p>
  <h2>{{ fieldLabel(dataset, field) }}</h2>
  <div class="moves">
    <button type="button" class="button" :disabled="at <= 0" @click="change(shiftField(exhibit, edge, field, -1))">Outward</button>
    <button type="button" class="button" :disabled="isLast" @click="change(shiftField(exhibit, edge, field, 1))">Inward</button>
    <button
      type="button"
      class="button"
      @click="
        selection = { exhibit: exhibit.id, part: { kind: 'level', edge: across(edge), field } };
        change(placeField(exhibit, across(edge), field));
      "
    >
      {{ edge === 'side' ? 'To the top' : 'To the side' }}
    </button>
  </div>
  <SettingsSection title="Order" open>
    <label class="stacked"
      >Members stand by
      <select class="choice" :value="orderValue" @change="setOrder(valueOf($event))">
        <option value="">the order of the whole axis</option>
        <option value="label asc">their words</option>
        <option value="label desc">their words, backwards</option>
        <option value="hand">an order drawn by hand</option>
        <option v-for="other in others" :key="other.name" :value="`field ${other.name}`">{{ other.label }}</option>
        <option v-for="measure in measures" :key="measure.name" :value="`measure ${measure.name}`">{{ measure.label }}</option>
      </select>
    </label>
    <label v-if="order && (order.by === 'measure' || order.by === 'field')"
      >First
      <select class="choice" :value="order.direction" @change="turn(valueOf($event) as 'asc')">
        <option value="desc">the largest</option>
        <option value="asc">the smallest</option>
      </select>
    </label>
    <VueDraggable
      v-if="order?.by === 'hand'"
      :model-value="byHand"
      tag="ol"
      class="hand"
      :animation="120"
      @update:model-value="drawOrder($event)"
    >
      <li v-for="(one, index) in byHand" :key="one.member">
        <span>{{ one.label }}</span>
        <span>
          <button type="button" :disabled="index === 0" :aria-label="`Move ${one.label} up`" @click="step(index, -1)">↑</button>
          <button type="button" :disabled="index === byHand.length - 1" :aria-label="`Move ${one.label} down`" @click="step(index, 1)">
            ↓
          </button>
        </span>
      </li>
    </VueDraggable>
  </SettingsSection>
  <SettingsSection
    title="Only the largest or smallest"
    :about="level.pick ? `${level.pick.count}` : 'all'"
    :open="level.pick !== undefined"
  >
    <label>Show only some <input type="checkbox" :checked="level.pick !== undefined" @change="togglePick" /></label>
    <template v-if="level.pick">
      <label
        >Which
        <select class="choice" :value="level.pick.from" @change="setPick({ from: valueOf($event) as Pick['from'] })">
          <option value="top">the largest</option>
          <option value="bottom">the smallest</option>
        </select>
      </label>
      <label
        >How many
        <input
          class="entry"
          type="number"
          min="1"
          max="1000"
          :value="level.pick.count"
          @change="setPick({ count: Math.max(1, Math.min(1000, Math.round(Number(valueOf($event)) || 1))) })"
      /></label>
      <label class="stacked"
        >By
        <select class="choice" :value="level.pick.measure" @change="setPick({ measure: valueOf($event) })">
          <option v-for="measure in measures" :key="measure.name" :value="measure.name">{{ measure.label }}</option>
        </select>
      </label>
      <label
        >Of
        <select class="choice" :value="level.pick.per" @change="setPick({ per: valueOf($event) as Pick['per'] })">
          <option value="parent">each parent</option>
          <option value="all">all members</option>
        </select>
      </label>
      <label
        >All others as one <input type="checkbox" :checked="level.pick.others" @change="setPick({ others: !level.pick.others })"
      /></label>
    </template>
  </SettingsSection>
  <SettingsSection v-if="!isLast" title="Subtotals" open>
    <label
      >Show its own values while it is open <input type="checkbox" :checked="level.subtotal" @change="set({ subtotal: !level.subtotal })"
    /></label>
  </SettingsSection>
  <button
    type="button"
    class="button quiet"
    @click="
      selection = { exhibit: exhibit.id };
      change(removeField(exhibit, edge, field));
    "
  >
    Take {{ fieldLabel(dataset, field) }} out
  </button>
</template>

<style scoped>
.moves {
  display: flex;
  gap: 6px;
  margin-bottom: 8px;
}
.moves .button {
  padding: 2px 8px;
  min-height: 28px;
  font-size: 12.5px;
}
.hand {
  margin: 0;
  padding: 0;
  list-style: none;
  max-height: 240px;
  overflow-y: auto;
  font-size: 13px;
}
.hand li {
  display: flex;
  justify-content: space-between;
  cursor: grab;
  border-bottom: 1px solid var(--rule-2);
}
.hand button {
  min-width: 24px;
  min-height: 24px;
  color: var(--sea);
}
.hand button:disabled {
  color: var(--ink-3);
}
</style>
