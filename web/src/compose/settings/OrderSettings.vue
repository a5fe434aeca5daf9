<script setup lang="ts">
import { fieldPlace, type Dataset, type Order } from '@bold-compass/core/model';
import { computed } from 'vue';
import { movedBy } from '../../drag/landing.ts';
import OrderedList from '../../drag/OrderedList.vue';
import { measureChoices } from '../edges.ts';
import { useMembers } from '../members.ts';
import MemberPath from './MemberPath.vue';
import SettingsSection from './SettingsSection.vue';

/** How the members of a level follow each other; `across` are the fields of the other axis. */
const props = defineProps<{ dataset: Dataset; field: string; across: string[]; order: Order | undefined }>();
const emit = defineEmits<{ change: [order: Order | undefined] }>();
const measures = computed(() => measureChoices(props.dataset));

/** Fields of the same dimension that members can be ordered by. */
const others = computed(() => {
  const place = fieldPlace(props.dataset, props.field);
  if (place.kind !== 'level') return [];
  return [...place.dimension.levels, ...place.dimension.attributes].filter(({ name }) => name !== props.field);
});
const orderValue = computed(() => {
  const now = props.order;
  if (!now) return '';
  if (now.by === 'hand') return 'hand';
  return now.by === 'label' ? `label ${now.direction}` : now.by === 'field' ? `field ${now.field}` : `measure ${now.measure}`;
});
function setOrder(value: string): void {
  const direction = props.order && 'direction' in props.order ? props.order.direction : undefined;
  if (value === '') emit('change', undefined);
  else if (value === 'hand') emit('change', { by: 'hand', members: [] });
  else if (value.startsWith('label ')) emit('change', { by: 'label', direction: value.slice(6) as 'asc' });
  else if (value.startsWith('field ')) emit('change', { by: 'field', field: value.slice(6), direction: direction ?? 'asc' });
  else {
    const at = props.order?.by === 'measure' ? props.order.at : [];
    emit('change', { by: 'measure', measure: value.slice(8), at, direction: direction ?? 'desc' });
  }
}
const turn = (direction: 'asc' | 'desc'): void => {
  if (props.order && props.order.by !== 'hand') emit('change', { ...props.order, direction });
};

const { members } = useMembers(
  computed(() => props.dataset.name),
  computed(() => (props.order?.by === 'hand' ? props.field : undefined)),
);
/** Members in the order drawn by hand; those that were not drawn follow as they are. */
const byHand = computed(() => {
  const drawn = props.order?.by === 'hand' ? props.order.members : [];
  const rest = (members.value ?? []).filter(({ member }) => !drawn.includes(member));
  const known = drawn.flatMap((member) => members.value?.find((one) => one.member === member) ?? []);
  return [...known, ...rest].slice(0, 300);
});
const drawOrder = (next: { member: string }[]): void => emit('change', { by: 'hand', members: next.map(({ member }) => member) });
const step = (index: number, by: -1 | 1): void => drawOrder(movedBy(byHand.value, index, by));
</script>

<template>
  <SettingsSection title="Order" open>
    <v-select
      label="Sort by"
      :model-value="orderValue"
      :items="[
        { value: '', title: 'Same as the axis' },
        { value: 'label asc', title: 'Label A–Z' },
        { value: 'label desc', title: 'Label Z–A' },
        { value: 'hand', title: 'Manual order' },
        ...others.map((other) => ({ value: `field ${other.name}`, title: other.label })),
        ...measures.map((measure) => ({ value: `measure ${measure.name}`, title: measure.label })),
      ]"
      @update:model-value="setOrder($event)"
    />
    <v-select
      v-if="order && (order.by === 'measure' || order.by === 'field')"
      label="Direction"
      :model-value="order.direction"
      :items="[
        { value: 'desc', title: 'Largest first' },
        { value: 'asc', title: 'Smallest first' },
      ]"
      @update:model-value="turn($event as 'asc')"
    />
    <MemberPath
      v-if="order?.by === 'measure'"
      :dataset="dataset"
      :fields="across"
      :path="order.at"
      words="Sort by values in"
      @change="emit('change', { ...order, at: $event })"
    />
    <OrderedList
      v-if="order?.by === 'hand'"
      v-slot="{ item: one, index, grip }"
      :items="byHand"
      :key-of="({ member }) => member"
      tag="ol"
      class="hand"
      @order="drawOrder($event)"
    >
      <div class="line" v-bind="grip">
        <span>{{ one.label }}</span>
        <span>
          <v-btn variant="text" :disabled="index === 0" :aria-label="`Move ${one.label} up`" @click="step(index, -1)">↑</v-btn>
          <v-btn variant="text" :disabled="index === byHand.length - 1" :aria-label="`Move ${one.label} down`" @click="step(index, 1)">
            ↓
          </v-btn>
        </span>
      </div>
    </OrderedList>
  </SettingsSection>
</template>

<style scoped>
.hand {
  max-height: 240px;
  overflow-y: auto;
  font-size: 13px;
}
.line {
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
