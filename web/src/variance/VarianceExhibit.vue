<script setup lang="ts">
import { varianceResponseSchema, type VarianceResponse } from '@bold-compass/core/api';
import { LOCALE, unitWords } from '@bold-compass/core/format';
import { measureNamed, type Variance } from '@bold-compass/core/model';
import { samePath } from '@bold-compass/core/table';
import { contributionRows, signedDifference, varianceColumns } from '@bold-compass/core/variance';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import ExhibitShell from '../report/ExhibitShell.vue';
import { useFigures } from '../report/figures.ts';
import { readVarianceCell } from '../report/url-state.ts';
import VarianceBridge from './VarianceBridge.vue';
import VarianceMembers from './VarianceMembers.vue';

/** What changed: a sentence, the bridge from before to now over one field, and the members that made the difference. */
const props = defineProps<{ exhibit: Variance; number: number }>();
const { report, asked, draft, versionOf, view, navigate, address } = useReport();
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
  return fields.find((one) => one.field === address.value[FIELD_KEY.value]) ?? fields[0];
});
const look = (name: string): void => navigate({ [FIELD_KEY.value]: name }, 'rewrite');
const measure = computed(() => measureNamed(view.value.dataset, props.exhibit.measure));
const signed = (value: number): string => signedDifference(value, measure.value.format, LOCALE);

const figures = useFigures();
const chosen = computed(() => readVarianceCell(props.exhibit, address.value));
const isChosen = (along: string, path: readonly (string | null)[]): boolean =>
  chosen.value !== null && chosen.value.along === along && samePath(chosen.value.side, path);
/** The figure of a member is explained, and leads to its records: in its own period, or in its own of two members. */
function choose(along: string, path: readonly (string | null)[], which: 'before' | 'after'): void {
  if (!data.value) return;
  const { between, measure: own } = props.exhibit;
  const cell = { side: [...path], top: between ? [between[which]] : [], measure: which === 'before' ? data.value.earlier : own, along };
  figures.choose(props.exhibit, cell);
}
const rows = computed(() => (field.value ? contributionRows(field.value, LOCALE) : []));
const names = computed(() => varianceColumns(data.value?.between ?? null));
type Effect = keyof NonNullable<VarianceResponse['effects']>['parts'];
/** What the difference is told by, those that are none of it left out. */
const effectWords = computed((): [Effect, string][] => {
  const { between, effects } = data.value ?? {};
  const all: [Effect, string][] = [
    ['price', 'Price'],
    ['volume', 'Volume'],
    ['mix', 'Mix'],
    ['gained', between ? `Only in ${between.after}` : 'New'],
    ['lost', between ? `Only in ${between.before}` : 'Discontinued'],
  ];
  return all.filter(([name]) => effects && effects.parts[name].value !== 0);
});
/** The part whose members are shown. */
const EFFECT_KEY = computed(() => `${props.exhibit.id}.effect`);
const shownEffect = computed(() => effectWords.value.find(([name]) => name === address.value[EFFECT_KEY.value]));
const effect = computed(() => shownEffect.value?.[0]);
const effectName = computed(() => shownEffect.value?.[1] ?? '');
</script>

<template>
  <ExhibitShell
    :id="exhibit.id"
    :title="exhibit.title"
    :number="number"
    :about="[unitWords(measure.format, LOCALE)]"
    :note="exhibit.note"
    :state="!data ? 'loading' : data.before === null && data.after === null ? 'empty' : 'shown'"
    loading="Calculating what changed"
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
          <VarianceMembers
            :contributions="field"
            :measure="measure"
            :caption="`What changed by ${field.label}`"
            :names="names"
            :is-chosen="(path) => isChosen(field!.field, path)"
            @choose="(path, which) => choose(field!.field, path, which)"
          />
        </div>
        <div v-if="data.effects" class="effects" role="group" aria-label="Price, volume and mix">
          <v-btn
            v-for="[name, words] in effectWords"
            :key="name"
            variant="text"
            :aria-pressed="effect === name"
            @click="navigate({ [EFFECT_KEY]: effect === name ? undefined : name }, 'rewrite')"
          >
            <span class="effect">
              <span class="muted">{{ words }}</span> <span class="serif">{{ signed(data.effects.parts[name].value) }}</span>
            </span>
          </v-btn>
        </div>
        <VarianceMembers
          v-if="data.effects && effect"
          class="by-effect"
          :contributions="{ ...data.effects, ...data.effects.parts[effect] }"
          :measure="measure"
          :caption="`${effectName} by ${data.effects.label}`"
          :names="{ ...names, change: effectName }"
          :is-chosen="(path) => isChosen(data!.effects!.field, path)"
          @choose="(path, which) => choose(data!.effects!.field, path, which)"
        />
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
.effects {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  margin: 10px 0 0 -10px;
  padding-top: 4px;
}
.effects .v-btn {
  height: auto;
  min-width: 0;
  padding: 4px 10px;
}
.effects .v-btn[aria-pressed='true'] {
  background: var(--sea-tint);
}
.effect {
  display: grid;
  justify-items: start;
  font-size: 12.5px;
  font-weight: 400;
  letter-spacing: normal;
}
.effect .serif {
  font-size: 19px;
  color: var(--ink);
}
.by-effect {
  max-width: 620px;
  margin-top: 6px;
}
</style>
