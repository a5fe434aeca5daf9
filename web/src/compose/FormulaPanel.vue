<script setup lang="ts">
import { formulaResponseSchema } from '@bold-compass/core/api';
import { LOCALE, cellText, figureText, unitWords } from '@bold-compass/core/format';
import { FUNCTION_HELP, planFormula, printName } from '@bold-compass/core/formula';
import { nameFor, namesTaken, proposedLook } from '@bold-compass/core/modelling';
import { fieldPlural, findMeasure, isCellExhibit, type CellExhibit, type Measure, type NumberFormat } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { useOwnStorage } from '../shell/own-storage.ts';
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue';
import { useRoute } from 'vue-router';
import { ask } from '../api/client.ts';
import FormulaEditor from '../formula/FormulaEditor.vue';
import { measureProblem } from '../formula/problems.ts';
import { useReport } from '../report/context.ts';
import { readCrosstabState } from '../report/url-state.ts';
import FormatFields from '../shell/FormatFields.vue';
import { datasetOf, useCompose, type WrittenFormula } from './context.ts';
import { dragged, endDrag } from './dragging.ts';
import { withMeasure, withMeasureIn } from './measures.ts';

/** A formula of the report at the foot of the page: written while the exhibit stays in view, with what it comes to in a cell. */
const props = defineProps<{ open: WrittenFormula }>();
const compose = useCompose();
const { report, setReport, written, insertion, selection } = compose;
const { asked: under, label: memberLabel } = useReport();
const route = useRoute();
const editor = useTemplateRef<InstanceType<typeof FormulaEditor>>('editor');

const exhibit = computed(() =>
  report.value.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === props.open.exhibit),
);
const dataset = computed(() => datasetOf(compose, undefined));
/** The measure is not among those that its own formula may name. */
const others = computed(() => ({
  ...dataset.value,
  measures: dataset.value.measures.filter(({ name }) => name !== props.open.measure.name),
}));
/** Formulas that were left without being applied, by report and measure. */
const kept = useOwnStorage<Record<string, { label: string; formula: string }>>('formulas', {}, sessionStorage);
const key = `${report.value.id} ${props.open.measure.name}`;
const forget = (): void => void (kept.value = Object.fromEntries(Object.entries(kept.value).filter(([name]) => name !== key)));
const startLabel = props.open.isNew ? '' : props.open.measure.label;
const label = ref(kept.value[key]?.label ?? startLabel);
const formula = ref(kept.value[key]?.formula ?? props.open.measure.formula);
const chosenLook = ref<Pick<Measure, 'format' | 'direction'> | null>(props.open.isNew ? null : props.open.measure);
const look = computed(() => chosenLook.value ?? proposedLook(others.value, formula.value) ?? props.open.measure);
const problem = computed(() => (formula.value.trim() === '' ? null : measureProblem(others.value, formula.value, props.open.measure.fact)));
const isSound = computed(() => formula.value.trim() !== '' && problem.value === null);

/** The cell that is chosen in the cross-tab, its total where none is. */
const place = computed(() => {
  const cell = exhibit.value && readCrosstabState(exhibit.value, route.query).cell;
  return { side: cell?.side ?? [], top: cell?.top ?? [] };
});
const viewState = computed(() => {
  if (!exhibit.value) return undefined;
  const { side, top } = readCrosstabState(exhibit.value, route.query);
  return { side, top };
});
const placeWords = computed(() => {
  if (!exhibit.value) return '';
  const { side, top } = exhibit.value;
  const words = (
    [
      ['side', side],
      ['top', top],
    ] as const
  ).flatMap(([which, { fields }]) => {
    const path = place.value[which];
    if (path.length > 0) return [memberLabel.value(fields[path.length - 1], path.at(-1)!)];
    return fields.length > 0 && which === 'side' ? [`all ${fieldPlural(dataset.value, fields[0])}`] : [];
  });
  return words.join(', ') || 'the total';
});
const asked = refDebounced(
  computed(() => ({ formula: formula.value, isSound: isSound.value })),
  250,
);
const { data: steps, error } = useQuery({
  queryKey: computed(() => ['formula', report.value.id, exhibit.value?.id, asked.value.formula, under.value, place.value, viewState.value]),
  queryFn: ({ signal }) =>
    ask(
      formulaResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${exhibit.value!.id}/formula`,
      {
        ...{ formula: asked.value.formula, fact: props.open.measure.fact, ...place.value, viewState: viewState.value },
        ...{ ...under.value, draft: true },
      },
      signal,
    ),
  enabled: computed(() => exhibit.value !== undefined && asked.value.isSound && asked.value.formula.trim() !== ''),
  placeholderData: keepPreviousData,
  retry: false,
});
function stepFormat(step: string, isLast: boolean): NumberFormat {
  if (isLast) return look.value.format;
  return (
    findMeasure(others.value, step)?.format ?? proposedLook(others.value, step)?.format ?? { kind: 'number', decimals: 2, unit: 'one' }
  );
}
const shownSteps = computed(() =>
  (steps.value ?? []).map(({ formula: step, value, text, reason }, index, all) => {
    const format = stepFormat(step, index === all.length - 1);
    const figure = format.kind === 'percent' ? figureText(value, format, LOCALE) : cellText(value, format, LOCALE);
    return {
      step,
      isLast: index === all.length - 1,
      words: text ?? figure,
      unit: format.kind === 'percent' ? '' : unitWords(format, LOCALE),
      reason,
    };
  }),
);

const word = ref('');
const search = ref('');
const shownHelp = computed(() => FUNCTION_HELP.find(({ name }) => name === word.value));
const functions = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const found = FUNCTION_HELP.filter(({ name, about }) => wanted === '' || name.includes(wanted) || about.toLowerCase().includes(wanted));
  return [...new Set(found.map(({ group }) => group))].map((group) => ({ group, items: found.filter((one) => one.group === group) }));
});
const isMeasureFormula = (example: string): boolean => {
  try {
    planFormula(others.value, example, props.open.measure.fact);
    return true;
  } catch {
    return false;
  }
};

function apply(): void {
  if (!isSound.value) return;
  const title = label.value.trim() || formula.value.trim().slice(0, 60);
  const name = props.open.isNew ? nameFor(title, namesTaken(dataset.value)) : props.open.measure.name;
  const { format, direction } = look.value;
  const measure: Measure = { ...props.open.measure, name, label: title, formula: formula.value.trim(), format, direction };
  if (props.open.isNew && exhibit.value) {
    setReport(withMeasureIn(report.value, exhibit.value, measure, props.open.at));
    selection.value = { exhibit: exhibit.value.id, part: { kind: 'cell', index: Math.min(props.open.at, exhibit.value.cells.length) } };
  } else setReport(withMeasure(report.value, measure));
  forget();
  written.value = null;
}
/** What was written is there again when the formula is opened the next time. */
function leave(): void {
  if (formula.value !== props.open.measure.formula || label.value !== startLabel)
    kept.value = { ...kept.value, [key]: { label: label.value, formula: formula.value } };
  written.value = null;
}
/** What is dragged from the drawer is written as its formula name. */
function drop(event: DragEvent): void {
  const what = dragged.value;
  if (what?.kind !== 'field' && what?.kind !== 'measure') return;
  event.preventDefault();
  event.stopPropagation();
  editor.value?.insert(printName(what.name));
  endDrag();
}
watch(insertion, (name) => {
  if (name === null) return;
  editor.value?.insert(printName(name));
  insertion.value = null;
});
onMounted(() => {
  editor.value?.focus();
  // The exhibit stays in view above the panel.
  document.querySelector(`[data-exhibit="${props.open.exhibit}"] [role=treegrid]`)?.scrollIntoView({ block: 'start' });
});
</script>

<template>
  <v-sheet class="panel" tag="section" aria-label="Formula" @keydown.esc="$event.defaultPrevented || leave()">
    <div class="work">
      <div class="head">
        <v-text-field v-model="label" class="title" aria-label="Label" maxlength="80" placeholder="Label" />
        <span class="muted about">Calculated measure of this report</span>
        <v-menu :close-on-content-click="false">
          <template #activator="{ props: activator }">
            <v-btn variant="text" v-bind="activator" class="look">
              {{ look.format.kind }}, {{ look.format.decimals }} {{ look.format.decimals === 1 ? 'decimal' : 'decimals' }} ·
              {{ look.direction }} is better
            </v-btn>
          </template>
          <v-card class="looks">
            <FormatFields :format="look.format" @change="chosenLook = { ...look, format: $event ?? look.format }" />
            <v-select
              label="Better is"
              :model-value="look.direction"
              :items="[
                { value: 'higher', title: 'Higher' },
                { value: 'lower', title: 'Lower' },
              ]"
              @update:model-value="chosenLook = { ...look, direction: $event }"
            />
          </v-card>
        </v-menu>
        <v-btn variant="text" @click="(forget(), (written = null))">Cancel</v-btn>
        <v-btn color="primary" variant="flat" :disabled="!isSound" title="Ctrl+Enter" @click="apply">Apply</v-btn>
      </div>
      <FormulaEditor
        ref="editor"
        v-model="formula"
        :dataset="others"
        :problem="problem"
        label="Formula"
        @apply="apply"
        @leave="leave"
        @word="word = $event"
        @drop.capture="drop"
      />
      <p v-if="problem" class="problem" role="alert">
        {{ problem.message }}
        <v-btn v-if="problem.fix" variant="text" class="fix" @click="editor?.replace(problem.fix.from, problem.fix.to, problem.fix.insert)">
          {{ problem.fix.words }}
        </v-btn>
      </p>
      <div v-else-if="exhibit" class="steps" aria-live="polite">
        <span class="muted where">in {{ placeWords }}</span>
        <p v-if="error" class="problem">{{ error.message }}</p>
        <div v-for="one in shownSteps" v-else :key="one.step" class="step" :class="{ whole: one.isLast }" :title="one.reason">
          <code>{{ one.step }}</code>
          <strong>{{ one.words }}</strong> <span class="muted">{{ one.unit }}</span>
        </div>
      </div>
    </div>
    <aside class="help" aria-label="Functions">
      <template v-if="shownHelp">
        <h3>{{ shownHelp.signature }}</h3>
        <p>{{ shownHelp.about }}</p>
        <v-btn variant="text" class="example" :disabled="!isMeasureFormula(shownHelp.example)" @click="editor?.insert(shownHelp.example)">{{
          shownHelp.example
        }}</v-btn>
      </template>
      <v-text-field v-model="search" type="search" placeholder="Find a function" aria-label="Find a function" />
      <div v-for="{ group, items } in functions" :key="group" class="group">
        <h3>{{ group }}</h3>
        <v-btn
          v-for="one in items"
          :key="one.name"
          variant="text"
          class="function"
          :title="`${one.signature}: ${one.about}`"
          @click="((word = one.name), editor?.insert(['at', 'back', 'per'].includes(one.name) ? ` ${one.name} ` : `${one.name}(`))"
          >{{ one.name }}</v-btn
        >
      </div>
    </aside>
  </v-sheet>
</template>

<style scoped>
.panel {
  position: fixed;
  left: 60px;
  right: 0;
  bottom: 0;
  z-index: 1010;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  height: 38vh;
  min-height: 250px;
  background: var(--sheet);
  border-top: 2px solid var(--ink);
}
.work {
  display: grid;
  align-content: start;
  gap: 8px;
  padding: 12px 20px 14px 30px;
  overflow: auto;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
}
.title {
  width: 280px;
  flex: none;
}
.about {
  flex: 1;
  font-size: 12.5px;
}
.look {
  font-size: 12.5px;
  color: var(--ink-2);
}
.looks {
  display: grid;
  gap: 8px;
  padding: 14px;
  width: 240px;
}
.problem {
  margin: 0;
  color: var(--off-text);
  font-size: 13.5px;
}
.fix {
  color: var(--sea);
  text-decoration: underline;
}
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  align-items: baseline;
}
.where {
  font-size: 12.5px;
}
.step code {
  display: block;
  font-size: 12px;
  color: var(--ink-2);
}
.step.whole strong {
  color: var(--sea);
}
.help {
  border-left: 1px solid var(--rule);
  padding: 12px 16px;
  overflow: auto;
  font-size: 13px;
}
.help h3 {
  margin: 8px 0 2px;
  font-size: 12.5px;
}
.help p {
  margin: 0 0 4px;
}
.example {
  width: 100%;
  margin-bottom: 8px;
  height: auto;
  min-height: 30px;
  padding: 4px 8px;
  justify-content: start;
  text-align: left;
  white-space: normal;
  border: 1px solid var(--rule);
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12px;
}
.function {
  min-width: 0;
  height: 24px;
  padding: 0 6px 0 0;
  color: var(--sea);
  font-size: 13px;
}
@media (max-width: 900px) {
  .panel {
    left: 0;
    grid-template-columns: minmax(0, 1fr);
  }
  .help {
    display: none;
  }
}
</style>
