<script setup lang="ts">
import { withNameRemoved, withNameReplaced } from '@bold-compass/core/exhibits';
import { listWords } from '@bold-compass/core/format';
import { nameInWords, type Dataset, type Exhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useReport } from './context.ts';
import ExhibitState from './ExhibitState.vue';

/** What stands in the place of an exhibit whose dataset lost fields or measures that it reads. */
const props = defineProps<{ exhibit: Exhibit; dataset: Dataset; fields: string[]; measures: string[] }>();
const { composing, change, fill } = useReport();

const gone = computed(() => [...props.fields, ...props.measures]);
const named = computed(() => listWords(gone.value.map((name) => `“${nameInWords(name)}”`)));
const message = computed(() => {
  const verb = gone.value.length === 1 ? 'is' : 'are';
  const next = composing.value ? 'Replace or remove what is gone.' : 'An analyst can replace what is gone.';
  return `${named.value} ${verb} no longer in ${props.dataset.label}. ${next}`;
});
/** What can stand in the place of a name, as the dataset lists it. */
function offered(name: string): { title: string; value: string }[] {
  if (props.measures.includes(name)) return props.dataset.measures.map((one) => ({ title: one.label, value: one.name }));
  const levels = props.dataset.dimensions.flatMap((dimension) => dimension.levels.map((one) => ({ title: one.label, value: one.name })));
  return [...levels, ...props.dataset.facts.flatMap(({ fields }) => fields.map((one) => ({ title: one.label, value: one.name })))];
}
function replace(name: string, to: string): void {
  const changed = withNameReplaced(props.exhibit, name, to);
  if (changed) change(changed);
}
function remove(name: string): void {
  const changed = withNameRemoved(props.exhibit, name);
  if (changed) change(changed);
}
</script>

<template>
  <section class="missing" :aria-label="'title' in exhibit ? fill(exhibit.title) : undefined">
    <h2 v-if="'title' in exhibit" class="serif">{{ fill(exhibit.title) }}</h2>
    <ExhibitState kind="failed" title="This exhibit reads what is no longer there" :message="message">
      <ul v-if="composing" class="names">
        <li v-for="name in gone" :key="name">
          <v-autocomplete
            :label="`Replace ${nameInWords(name)} with`"
            :model-value="null"
            :items="offered(name)"
            @update:model-value="$event && replace(name, $event)"
          />
          <v-btn v-if="withNameRemoved(exhibit, name)" @click="remove(name)">Remove {{ nameInWords(name) }}</v-btn>
        </li>
      </ul>
    </ExhibitState>
  </section>
</template>

<style scoped>
.missing {
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--rule);
  margin-top: 20px;
}
h2 {
  font-size: 18px;
  margin: 8px 0 0;
}
.names {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  gap: 10px;
}
.names li {
  display: flex;
  align-items: center;
  gap: 12px;
}
.names .v-autocomplete {
  min-width: 280px;
}
</style>
