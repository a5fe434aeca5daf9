<script setup lang="ts">
import { varianceResponseSchema, type VarianceResponse } from '@bold-compass/core/api';
import { cellText, countWords, NO_VALUE, unitWords } from '@bold-compass/core/format';
import { measureNamed, type Variance } from '@bold-compass/core/model';
import { samePath } from '@bold-compass/core/table';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import ExhibitShell from '../report/ExhibitShell.vue';
import { LOCALE } from '../report/state-words.ts';
import { cellQuery, readVarianceCell } from '../report/url-state.ts';
import VarianceBridge from './VarianceBridge.vue';

/** What changed: a sentence, the bridge from before to now over one field, and the members that made the difference. */
const props = defineProps<{ exhibit: Variance; number: number }>();
const route = useRoute();
const { report, asked, draft, versionOf, view, navigate } = useReport();
const { data, error, isFetching, isPlaceholderData, refetch } = useQuery({
  queryKey: computed(() => ['variance', report.value.id, versionOf(props.exhibit.id), props.exhibit.id, asked.value]),
  queryFn: ({ signal }) =>
    ask(
      varianceResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${props.exhibit.id}/variance`,
      { ...asked.value, draft: draft.value },
      signal,
    ),
  placeholderData: keepPreviousData,
});

type Field = VarianceResponse['fields'][number];
const FIELD_KEY = computed(() => `${props.exhibit.id}.field`);
const field = computed((): Field | undefined => {
  const { fields = [] } = data.value ?? {};
  return fields.find((one) => one.field === route.query[FIELD_KEY.value]) ?? fields[0];
});
const look = (name: string): void => navigate({ [FIELD_KEY.value]: name }, 'rewrite');
const measure = computed(() => measureNamed(view.value.dataset, props.exhibit.measure));
const say = (value: number | null): string => (value === null ? NO_VALUE : cellText(value, measure.value.format, LOCALE));
const signed = (value: number): string => `${value > 0 ? '+' : ''}${say(value)}`;

const chosen = computed(() => readVarianceCell(props.exhibit, route.query));
const isChosen = (path: readonly (string | null)[]): boolean =>
  chosen.value !== null && chosen.value.along === field.value?.field && samePath(chosen.value.side, path);
/** The figure of a member is explained, and leads to its records; where two members are compared each has its own. */
function choose(path: readonly (string | null)[], which: 'before' | 'after'): void {
  if (!field.value) return;
  const { between } = props.exhibit;
  const cell = { side: [...path], top: between ? [between[which]] : [], measure: props.exhibit.measure, along: field.value.field };
  navigate(cellQuery(props.exhibit, cell), 'rewrite');
}
const others = computed(() =>
  field.value?.others
    ? countWords(field.value.others.count, { one: `other of the ${field.value.plural}`, many: `other ${field.value.plural}` }, LOCALE)
    : '',
);
const rows = computed(() => [
  ...(field.value?.named ?? []),
  ...(field.value?.others ? [{ ...field.value.others, path: null, label: others.value }] : []),
]);
const names = computed(() => data.value?.between ?? { before: 'Before', after: 'Now' });
const effectWords = computed(() => {
  const { between } = data.value ?? {};
  return [
    ['price', 'Price'],
    ['volume', 'Volume'],
    ['mix', 'Mix'],
    ['gained', between ? `Only in ${between.after}` : 'New'],
    ['lost', between ? `Only in ${between.before}` : 'Discontinued'],
  ] as const;
});
</script>

<template>
  <ExhibitShell
    :id="exhibit.id"
    :title="exhibit.title"
    :number="number"
    :about="[unitWords(measure.format, LOCALE)]"
    :note="exhibit.note"
    :state="!data ? 'loading' : data.before === null && data.after === null ? 'empty' : 'shown'"
    loading="Working out what changed"
    :problem="error"
    :waiting="isFetching"
    @retry="refetch()"
  >
    <div v-if="data" :class="{ waiting: isPlaceholderData }">
      <p v-for="sentence in data.sentences" :key="sentence" class="serif said">{{ sentence }}</p>
      <template v-if="field">
        <div class="fields" role="group" aria-label="Field">
          <span class="muted">By</span>
          <v-btn
            v-for="one in data.fields"
            :key="one.field"
            class="inline"
            variant="plain"
            :aria-pressed="one.field === field.field"
            @click="look(one.field)"
            >{{ one.label.toLowerCase() }}</v-btn
          >
        </div>
        <p class="movers">{{ field.sentence }}</p>
        <p v-if="!field.addsUp" class="muted">
          The differences of {{ field.plural }} do not add up to the whole: {{ measure.label.toLowerCase() }} is no sum.
        </p>
        <div class="parts">
          <VarianceBridge
            v-if="field.addsUp && data.before !== null && data.after !== null"
            :before="data.before"
            :after="data.after"
            :parts="rows"
            :measure="measure"
          />
          <table class="ruled members">
            <caption class="visually-hidden">
              What changed by
              {{
                field.label
              }}
            </caption>
            <thead>
              <tr>
                <th scope="col">{{ field.label }}</th>
                <th scope="col" class="number">{{ names.before }}</th>
                <th scope="col" class="number">{{ names.after }}</th>
                <th scope="col" class="number">{{ data.between ? 'Difference' : 'Change' }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in rows" :key="row.label" :class="{ chosen: row.path && isChosen(row.path) }">
                <th scope="row">{{ row.label }}</th>
                <td class="number">
                  <v-btn
                    v-if="row.path && data.between && row.before !== null"
                    variant="plain"
                    class="inline"
                    @click="choose(row.path, 'before')"
                    >{{ say(row.before) }}</v-btn
                  >
                  <template v-else>{{ say(row.before) }}</template>
                </td>
                <td class="number">
                  <v-btn v-if="row.path" variant="plain" class="inline" @click="choose(row.path, 'after')">{{ say(row.after) }}</v-btn>
                  <template v-else>{{ say(row.after) }}</template>
                </td>
                <td class="number" :class="row.change < 0 ? 'worse' : ''">{{ signed(row.change) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <dl v-if="data.effects" class="effects">
          <template v-for="[name, words] in effectWords" :key="name">
            <div v-if="data.effects[name] !== 0">
              <dt>{{ words }}</dt>
              <dd>{{ signed(data.effects[name]) }}</dd>
            </div>
          </template>
        </dl>
      </template>
    </div>
  </ExhibitShell>
</template>

<style scoped>
.exhibit :deep(> header) {
  border-top: 2px solid var(--ink);
  padding-top: 6px;
}
.said {
  font-size: 17px;
  font-weight: 400;
  margin: 4px 0;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 9px;
  margin-top: 8px;
  font-size: 13px;
}
.fields .v-btn[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 700;
  text-decoration: none;
}
.movers {
  margin: 4px 0;
  font-size: 13.5px;
}
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(340px, 100%), 1fr));
  gap: 8px 26px;
  align-items: start;
}
.members th[scope='row'] {
  color: var(--ink);
  border-bottom-color: var(--rule-2);
}
.members .number {
  text-align: right;
}
.members td,
.members th {
  vertical-align: baseline;
  padding-top: 3px;
  padding-bottom: 3px;
}
.members .v-btn {
  color: var(--ink);
  font-size: inherit;
}
.worse {
  color: var(--off-text);
}
.chosen {
  background: var(--sea-tint);
}
.effects {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 26px;
  margin: 10px 0 0;
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.effects dt {
  font-size: 12.5px;
  color: var(--ink-2);
}
.effects dd {
  margin: 0;
  font-family: var(--serif);
  font-size: 19px;
}
</style>
