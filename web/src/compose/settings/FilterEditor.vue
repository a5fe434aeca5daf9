<script setup lang="ts">
import { LOCALE, conditionWords, plainMemberLabel } from '@bold-compass/core/format';
import { fieldLabel, findField, isNumberType, type Dataset, type Filter } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { computed, ref } from 'vue';
import type { FieldChoice } from '../edges.ts';
import MembersEditor from './MembersEditor.vue';
import AddChoice from '../../shell/AddChoice.vue';
import DateField from '../../shell/DateField.vue';

/** The conditions of an exhibit: members that are kept or left out, and comparisons. */
const props = defineProps<{ filter: Filter | null; dataset: Dataset; fields: FieldChoice[] }>();
const emit = defineEmits<{ change: [filter: Filter | null] }>();

const items = computed((): Filter[] => (props.filter === null ? [] : props.filter.op === 'and' ? props.filter.items : [props.filter]));
const set = (next: Filter[]): void => emit('change', next.length === 0 ? null : next.length === 1 ? next[0] : { op: 'and', items: next });
const replace = (index: number, item: Filter): void => set(items.value.map((one, at) => (at === index ? item : one)));
const opened = ref(-1);

type Kind = 'members' | 'number' | 'date' | 'text';
function kindOf(field: string): Kind {
  const place = findField(props.dataset, field);
  if (!place || place.kind === 'period') return 'members';
  const { type } = place.kind === 'level' ? place.level : place.field;
  if (type === 'date' || type === 'datetime') return 'date';
  return isNumberType(type) && place.kind !== 'level' ? 'number' : 'members';
}
function add(field: string): void {
  const kind = kindOf(field);
  const item: Filter =
    kind === 'members'
      ? { op: 'in', field, values: [] }
      : kind === 'number'
        ? { op: 'ge', field, value: 0 }
        : { op: 'ge', field, value: '2026-01-01' };
  opened.value = items.value.length;
  set([...items.value, item]);
}
const fieldOf = (item: Filter): string | null => ('field' in item ? item.field : null);
const words = (item: Filter): string =>
  conditionWords(props.dataset, item, plainMemberLabel(props.dataset, LOCALE)).join('; ') || 'Nothing chosen yet';
const OPS: { value: string; words: string; kinds: Kind[] }[] = [
  { value: 'in', words: 'only these', kinds: ['members'] },
  { value: 'notIn', words: 'all but these', kinds: ['members'] },
  { value: 'contains', words: 'holds the text', kinds: ['members', 'text'] },
  { value: 'startsWith', words: 'begins with', kinds: ['members', 'text'] },
  { value: 'ge', words: 'at least', kinds: ['number', 'date'] },
  { value: 'gt', words: 'more than', kinds: ['number', 'date'] },
  { value: 'le', words: 'at most', kinds: ['number', 'date'] },
  { value: 'lt', words: 'less than', kinds: ['number', 'date'] },
  { value: 'eq', words: 'exactly', kinds: ['number', 'date'] },
  { value: 'empty', words: 'is missing', kinds: ['members', 'number', 'date', 'text'] },
  { value: 'notEmpty', words: 'is there', kinds: ['members', 'number', 'date', 'text'] },
];
function setOp(index: number, item: Filter, op: string): void {
  const field = fieldOf(item)!;
  const values = 'values' in item ? item.values : [];
  if (op === 'in' || op === 'notIn') replace(index, { op, field, values });
  else if (op === 'empty' || op === 'notEmpty') replace(index, { op, field });
  else if (op === 'contains' || op === 'startsWith') replace(index, { op, field, value: 'value' in item ? String(item.value) : '' });
  else replace(index, { op: op as 'ge', field, value: 'value' in item ? item.value : kindOf(field) === 'date' ? '2026-01-01' : 0 });
}
function setValue(index: number, item: Filter, text: string): void {
  if (!('value' in item)) return;
  const number = Number(text);
  if (kindOf(fieldOf(item)!) === 'number' && !Number.isFinite(number)) return;
  replace(index, { ...item, value: kindOf(fieldOf(item)!) === 'number' ? number : text } as Filter);
}
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
</script>

<template>
  <ul class="conditions">
    <li v-for="(item, index) in items" :key="index">
      <div class="line">
        <v-btn variant="text" :aria-expanded="opened === index" class="words" @click="opened = opened === index ? -1 : index">
          {{ words(item) }}
        </v-btn>
        <v-btn
          :icon="mdiClose"
          variant="text"
          size="small"
          :aria-label="`Remove: ${words(item)}`"
          class="tool"
          @click="set(items.filter((_, at) => at !== index))"
        />
      </div>
      <div v-if="opened === index && fieldOf(item)" class="form">
        <v-select
          :model-value="item.op"
          :aria-label="`${fieldLabel(dataset, fieldOf(item)!)} is`"
          :items="OPS.filter(({ kinds }) => kinds.includes(kindOf(fieldOf(item)!))).map((op) => ({ value: op.value, title: op.words }))"
          @update:model-value="setOp(index, item, $event)"
        />
        <MembersEditor
          v-if="item.op === 'in' || item.op === 'notIn'"
          :field="item.field"
          :dataset="dataset.name"
          :chosen="item.values.map(String)"
          @change="replace(index, { ...item, values: $event })"
        />
        <DateField
          v-else-if="'value' in item && kindOf(fieldOf(item)!) === 'date'"
          label="Value"
          label-hidden
          :model-value="String(item.value)"
          @update:model-value="$event && setValue(index, item, $event)"
        />
        <v-text-field
          v-else-if="'value' in item"
          :type="kindOf(fieldOf(item)!) === 'number' ? 'number' : 'text'"
          :model-value="item.value"
          aria-label="Value"
          @change="setValue(index, item, valueOf($event))"
        />
      </div>
    </li>
  </ul>
  <AddChoice
    label="Add condition"
    :items="fields.map((field) => ({ value: field.name, title: field.label, group: field.group }))"
    @add="add"
  />
</template>

<style scoped>
.conditions {
  list-style: none;
  margin: 0;
  padding: 0;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 6px;
}
.words {
  text-align: left;
  color: var(--sea);
  font-size: 13px;
  min-height: 24px;
}
.tool {
  min-width: 24px;
  min-height: 24px;
}
.form {
  display: grid;
  gap: 6px;
  padding: 4px 0 8px 8px;
  border-left: 3px solid var(--sea-tint);
}
</style>
