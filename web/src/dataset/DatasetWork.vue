<script setup lang="ts">
import {
  datasetViewSchema,
  dataTableSchema,
  findingSchema,
  joinSuggestionSchema,
  reportSummarySchema,
  touchedSchema,
  type DatasetView,
  type DataTable,
  type JoinSuggestion,
  type Touched,
} from '@bold-compass/core/api';
import { datasetSchema, type Dataset, type Dimension, type Fact, type TableDimension } from '@bold-compass/core/model';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { dimensionOver, namesTaken, withFact } from '@bold-compass/core/modelling';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { onKeyStroke } from '@vueuse/core';
import { computed, ref, shallowRef } from 'vue';
import { useRoute } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { TYPE_NAMES } from '../data/type-names.ts';
import { historyKeeper } from '../drafts/draft-history.ts';
import { useSavedDocument } from '../drafts/saved-document.ts';
import DatasetControlTotals from '../control-totals/DatasetControlTotals.vue';
import AccessRules from './AccessRules.vue';
import AddTable from './AddTable.vue';
import DimensionPanel from './DimensionPanel.vue';
import FactPanel from './FactPanel.vue';
import FieldTable from './FieldTable.vue';
import FindingList from './FindingList.vue';
import ModelPicture from './ModelPicture.vue';
import RememberedTexts from './RememberedTexts.vue';
import { useGoOn } from '../shell/go-on.ts';

const props = defineProps<{ view: DatasetView }>();
const emit = defineEmits<{ reload: [] }>();
const queries = useQueryClient();
const goOn = useGoOn();
const { name } = props.view.applied;
const path = `/datasets/${name}`;

const isDraft = ref(props.view.isDraft);
const {
  document: dataset,
  revision,
  status,
  conflict,
  canReplace,
  replaceTheirs,
  canUndo,
  canRedo,
  change,
  undo,
  redo,
  settled,
} = useSavedDocument<Dataset>(
  props.view.definition,
  props.view.draftRevision,
  async (definition, from) => {
    const saved = await ask(datasetViewSchema, 'PUT', `${path}/draft`, { definition, revision: from, base: props.view.applied });
    isDraft.value = true;
    return saved.draftRevision;
  },
  historyKeeper(`dataset ${name}`, datasetSchema),
);

const { data: findings } = useQuery({
  queryKey: computed(() => ['findings', name, revision.value]),
  queryFn: ({ signal }) => ask(z.array(findingSchema), 'GET', `${path}/findings`, undefined, signal),
  placeholderData: (before) => before,
});
const { data: tables } = useQuery({
  queryKey: ['tables of', name],
  queryFn: ({ signal }) => ask(z.array(dataTableSchema), 'GET', `${path}/tables`, undefined, signal),
});
const { data: suggestions } = useQuery({
  queryKey: computed(() => ['joins', name, revision.value]),
  queryFn: ({ signal }) => ask(z.array(joinSuggestionSchema), 'GET', `${path}/joins`, undefined, signal),
  placeholderData: (before) => before,
});
const { data: reports } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
});
const report = computed(() => reports.value?.find((one) => one.dataset === name)?.id ?? null);

const tab = ref<'picture' | 'fields' | 'access' | 'control' | 'remembered'>(useRoute().query.part === 'control' ? 'control' : 'picture');
const TABS = [
  { value: 'picture', title: 'Model' },
  { value: 'fields', title: 'Measures and fields' },
  { value: 'access', title: 'Access rules' },
  { value: 'control', title: 'Control totals' },
  { value: 'remembered', title: 'Value mappings' },
] as const;
const chosen = ref('');
const fact = computed(() => dataset.value.facts.find((one) => `fact ${one.name}` === chosen.value));
const dimension = computed(() => dataset.value.dimensions.find((one) => `dimension ${one.name}` === chosen.value));
const ownFindings = computed(
  () =>
    findings.value?.filter(({ about }) =>
      fact.value
        ? about.fact === fact.value.name
        : dimension.value
          ? about.dimension === dimension.value.name && !about.fact
          : about.measure !== undefined,
    ) ?? [],
);
const taken = computed(() => namesTaken(dataset.value));
const setFact = (next: Fact): void =>
  change({ ...dataset.value, facts: dataset.value.facts.map((one) => (one.name === next.name ? next : one)) });
const setDimension = (next: Dimension): void =>
  change({ ...dataset.value, dimensions: dataset.value.dimensions.map((one) => (one.name === next.name ? next : one)) });
function removeFact(gone: Fact): void {
  chosen.value = '';
  change({
    ...dataset.value,
    facts: dataset.value.facts.filter((one) => one.name !== gone.name),
    measures: dataset.value.measures.filter((one) => one.fact !== gone.name),
  });
}
function removeDimension(gone: Dimension): void {
  chosen.value = '';
  change({
    ...dataset.value,
    dimensions: dataset.value.dimensions.filter((one) => one.name !== gone.name),
    facts: dataset.value.facts.map((one) => ({ ...one, links: one.links.filter((link) => link.dimension !== gone.name) })),
  });
}
const tableOf = ({ table }: { table: string }): DataTable => tables.value!.find((one) => one.table === table)!;
function join(one: JoinSuggestion): void {
  const known = dataset.value.dimensions.find(
    (other): other is TableDimension => other.kind === 'table' && !other.tree && other.table === one.table && other.key === one.key,
  );
  const added = known ?? dimensionOver(dataset.value, tableOf(one), one.key);
  change({
    ...dataset.value,
    dimensions: known ? dataset.value.dimensions : [...dataset.value.dimensions, added],
    facts: dataset.value.facts.map((other) =>
      other.name === one.fact ? { ...other, links: [...other.links, { dimension: added.name, column: one.column }] } : other,
    ),
  });
}
function addDimension(table: DataTable, key: string, tree: TableDimension['tree']): void {
  const added = dimensionOver(dataset.value, table, key, tree);
  change({ ...dataset.value, dimensions: [...dataset.value.dimensions, added] });
  chosen.value = `dimension ${added.name}`;
}
function addFact(table: DataTable): void {
  const next = withFact(dataset.value, table);
  change(next);
  chosen.value = `fact ${next.facts.at(-1)!.name}`;
}

const message = ref('');
const touched = shallowRef<Touched | null>(null);
const asking = ref(false);
async function attempt(action: () => Promise<void>): Promise<void> {
  message.value = '';
  try {
    await action();
  } catch (error) {
    message.value = error instanceof ApiProblem ? error.message : 'This did not work. Try again.';
  }
}
const beforeApply = (): Promise<void> =>
  attempt(async () => {
    await settled();
    touched.value = await ask(touchedSchema, 'GET', `${path}/touched`);
    asking.value = true;
  });
const apply = (): Promise<void> =>
  attempt(async () => {
    asking.value = false;
    await ask(datasetViewSchema, 'POST', `${path}/apply`, { revision: revision.value });
    void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'dataset-model' });
    emit('reload');
  });
const discard = (): Promise<void> =>
  attempt(async () => {
    await settled();
    await ask(datasetViewSchema, 'DELETE', `${path}/draft`, { revision: revision.value });
    emit('reload');
  });
const remove = (): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'DELETE', path);
    await queries.invalidateQueries({ queryKey: ['datasets'] });
    await goOn({ name: 'data' });
  });
onKeyStroke(['z', 'Z'], (event) => {
  if (!(event.ctrlKey || event.metaKey) || (event.target as HTMLElement).closest('input, textarea')) return;
  event.preventDefault();
  if (event.shiftKey) redo();
  else undo();
});
</script>

<template>
  <div>
    <div class="head">
      <div>
        <h1>{{ dataset.label }}</h1>
        <p class="muted">
          {{
            isDraft
              ? `${status}. Others see it once you apply it.`
              : 'No changes in draft. What you change stays a draft until you apply it.'
          }}
        </p>
      </div>
      <div class="actions">
        <v-btn :disabled="!canUndo" @click="undo()">Undo</v-btn>
        <v-btn :disabled="!canRedo" @click="redo()">Redo</v-btn>
        <v-btn variant="text" :disabled="!isDraft" @click="discard">Discard draft</v-btn>
        <v-btn color="primary" variant="flat" :disabled="!isDraft" @click="beforeApply">Apply changes</v-btn>
      </div>
    </div>
    <p v-if="message || conflict" class="failure" role="alert">
      {{ message || conflict }}
      <template v-if="conflict">
        <v-btn @click="emit('reload')">Reload</v-btn>
        <v-btn v-if="canReplace" @click="replaceTheirs">Overwrite</v-btn>
      </template>
    </p>
    <v-tabs v-model="tab" class="tabs" aria-label="Parts of the dataset">
      <v-tab v-for="{ value, title } in TABS" :id="`tab-${value}`" :key="value" :value="value" aria-controls="part">{{ title }}</v-tab>
    </v-tabs>
    <div id="part" role="tabpanel" :aria-labelledby="`tab-${tab}`">
      <template v-if="tab === 'picture'">
        <ModelPicture :dataset="dataset" :findings="findings ?? []" :chosen="chosen" @choose="chosen = $event" />
        <v-navigation-drawer permanent tag="aside" location="right" class="side" :width="320" aria-label="About the selection">
          <FactPanel
            v-if="fact"
            :fact="fact"
            :dataset="dataset"
            :tables="tables ?? []"
            :findings="ownFindings"
            :suggestions="suggestions?.filter((one) => one.fact === fact!.name) ?? []"
            @change="setFact"
            @join="join"
            @remove="removeFact(fact)"
          />
          <DimensionPanel
            v-else-if="dimension"
            :dimension="dimension"
            :dataset="name"
            :revision="revision"
            :tables="tables ?? []"
            :findings="ownFindings"
            :taken="taken"
            @change="setDimension"
            @remove="removeDimension(dimension)"
          />
          <template v-else>
            <p>Choose a fact or a dimension to see and change it.</p>
            <p class="muted">Facts have a brass edge, dimensions a blue one. A dashed line has a notice.</p>
            <FindingList :findings="findings?.filter(({ kind }) => kind === 'refused') ?? []" />
            <AddTable :tables="tables ?? []" @dimension="addDimension" @fact="addFact" />
            <v-btn variant="text" class="remove" @click="remove">Delete dataset</v-btn>
          </template>
        </v-navigation-drawer>
      </template>
      <FieldTable v-else-if="tab === 'fields'" :dataset="dataset" @change="change" />
      <AccessRules v-else-if="tab === 'access'" :dataset="view.applied" :report="report" />
      <DatasetControlTotals v-else-if="tab === 'control'" :dataset="view.applied" />
      <RememberedTexts v-else :dataset="view.applied" />
    </div>
    <v-dialog v-model="asking" max-width="560" aria-label="Apply the draft">
      <v-card class="sheet">
        <h2>Apply the draft?</h2>
        <p v-if="touched && touched.reports.length === 0">No report uses what you changed.</p>
        <template v-else>
          <p>These reports use what you changed:</p>
          <ul>
            <li v-for="one in touched?.reports" :key="one.id">
              <strong>{{ one.title }}</strong>
              <span v-if="one.breaks.length > 0" class="breaks"> would miss {{ one.breaks.join(', ') }}</span>
              <p v-for="{ label, before, after } in one.retyped" :key="label" class="values breaks">
                {{ label }} changes its type from {{ TYPE_NAMES[before] }} to {{ TYPE_NAMES[after] }}: check the filters and formulas that
                use it.
              </p>
              <p v-for="{ label, format, before, after } in one.values" :key="label" class="values">
                {{ label }}: {{ figureText(before, format, LOCALE) }} → {{ figureText(after, format, LOCALE) }}
              </p>
            </li>
          </ul>
        </template>
        <div class="actions">
          <v-btn @click="asking = false">Cancel</v-btn>
          <v-btn color="primary" variant="flat" @click="apply">Apply</v-btn>
        </div>
      </v-card>
    </v-dialog>
  </div>
</template>

<style scoped>
.head,
.actions {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 8px;
}
.failure {
  border-left: 3px solid var(--off);
  background: var(--brass-tint);
  padding: 6px 12px;
  margin: 8px 0;
}
.tabs {
  margin: 10px 0 0;
}
.side :deep(.v-navigation-drawer__content) {
  padding: 18px 18px 60px;
}
.sheet ul {
  margin: 0;
  padding-left: 18px;
}
.remove {
  margin-top: 24px;
}
.values {
  margin: 0;
  font-size: 13px;
  color: var(--ink-2);
}
.breaks {
  color: var(--off-text);
}
</style>
