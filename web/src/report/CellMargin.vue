<script setup lang="ts">
import type { Explanation } from '@bold-compass/core/api';
import { LOCALE, cellText, countWords, figureText, signedPercent, unitWords } from '@bold-compass/core/format';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { combinedWords, isCombined, placedOnSide } from '@bold-compass/core/crosstab';
import { goesByPlace, planMeasure } from '@bold-compass/core/formula';
import { proposedLook } from '@bold-compass/core/modelling';
import { fieldLabel, fieldPlural, measureNamed, type Scope } from '@bold-compass/core/model';
import { summaryWords } from '@bold-compass/core/table';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, shallowRef } from 'vue';
import PinControlTotal from '../control-totals/PinControlTotal.vue';
import { provideReport, useReport } from './context.ts';
import ProblemState from './ProblemState.vue';
import WatchButton from './WatchButton.vue';
import { useFollowing } from './following.ts';
import { useLinks } from './links.ts';
import { explanationQuery, measureShown, viewStateOf, type ChosenFigure } from './explanation-query.ts';

const RowMenu = defineAsyncComponent(() => import('../crosstab/RowMenu.vue'));
const CellRecords = defineAsyncComponent(() => import('./CellRecords.vue'));

/** The margin about the chosen cell: what it is, why it is so, what it is made of, what it stands against, where it leads. */
const { figure } = defineProps<{ figure: ChosenFigure }>();
const emit = defineEmits<{ close: [] }>();
/** Whether the records behind the figure are open. */
const recordsShown = defineModel<boolean>('records', { required: true });
const outer = useReport();
const exhibit = computed(() => figure.exhibit);
const cell = computed(() => figure.cell);
const dataset = computed(() => figure.dataset);
/** The dataset that the cell is answered from, with measures that are there for its exhibit alone. */
const view = computed(() => ({ ...outer.view.value, dataset: dataset.value }));
const { report, scope, label, setScope, resetScope } = provideReport({ ...outer, view });
const asked = useFollowing(() => exhibit.value);

const shownName = computed(() => measureShown(figure));
const plan = computed(() => planMeasure(view.value.dataset, shownName.value));
const viewState = computed(() => viewStateOf(figure));
const question = computed(() => explanationQuery(outer, figure, asked.value));
const { data, error, isPlaceholderData, refetch } = useQuery({
  queryKey: computed(() => question.value.queryKey),
  queryFn: (context) => question.value.queryFn(context),
  placeholderData: keepPreviousData,
});

/** A figure of the dataset that does not hang on how the table stands can be pinned. */
const canPin = computed(
  () =>
    view.value.canCompose &&
    view.value.access === '' &&
    data.value !== undefined &&
    data.value.value !== null &&
    !data.value.shown &&
    !data.value.isDifference &&
    !isPlaceholderData.value &&
    !goesByPlace(plan.value.cell) &&
    !report.value.measures.some(({ name }) => name === shownName.value) &&
    !shownName.value.includes('('),
);
/** Where the cell is down the side: also below a member that was opened by a level of its own. */
const sidePlace = computed(
  () => placedOnSide(exhibit.value, cell.value.side) ?? { fields: exhibit.value.side.fields, path: [...cell.value.side] },
);
/** The members of the row that can be chosen in the scope line; none where one is missing or stands for several. */
const rowMembers = computed((): Scope | null => {
  const { fields, path: side } = sidePlace.value;
  if (side.length === 0 || side.some((member) => member === null || isCombined(member))) return null;
  const members = Object.fromEntries(side.map((member, level) => [fields[level], [member!]]));
  const isChosen = Object.entries(members).every(
    ([field, [member]]) => asked.value.scope[field]?.length === 1 && asked.value.scope[field][0] === member,
  );
  return isChosen ? null : members;
});
/** Makes the row the whole of what is shown; the scope line says so, and Back leads to what was before. */
function onlyThis(): void {
  if (rowMembers.value) setScope({ ...scope.value, ...rowMembers.value });
}

/** A figure that is judged can be watched. */
const isJudged = computed(() => {
  const { indicator } = exhibit.value.cells.find((one) => one.measure === cell.value.measure) ?? {};
  return indicator !== undefined && shownName.value === cell.value.measure;
});
/** Where the menu of the row is open. */
const rowMenu = shallowRef<[number, number] | null>(null);
function openRowMenu(event: MouseEvent): void {
  const { left, bottom } = (event.currentTarget as HTMLElement).getBoundingClientRect();
  rowMenu.value = [left, bottom];
}
const measure = computed(() => measureNamed(view.value.dataset, shownName.value));
/** What the cell holds where it is no number. */
const textWords = computed(() => {
  const text = data.value?.text;
  return text !== undefined && plan.value.type === 'date' ? dayLabel(parseIsoDate(text)!, LOCALE) : text;
});
const format = computed(() => exhibit.value.cells.find((own) => own.measure === shownName.value)?.format ?? measure.value.format);

/** The words for the member of the row. */
const rowWords = computed(() => {
  const { fields, path } = sidePlace.value;
  const [field, member] = [fields[path.length - 1], path.at(-1)];
  if (member === undefined) return '';
  return combinedWords(view.value.dataset, field, exhibit.value.side.levels[field], member) ?? memberWords(field, member);
});
const place = computed(() => {
  const side = cell.value.side.at(-1);
  const top = cell.value.top.at(-1);
  const [rows, columns] = [exhibit.value.side.fields, exhibit.value.top.fields];
  const whole = rows[0] ? `All ${fieldPlural(view.value.dataset, rows[0])}` : '';
  const row = side === undefined ? whole : rowWords.value;
  const field = columns[cell.value.top.length - 1];
  const combined = top === undefined ? undefined : combinedWords(view.value.dataset, field, exhibit.value.top.levels[field], top);
  const column = top === undefined ? '' : (combined ?? label.value(field, top));
  return [row, column].filter((word) => word !== '').join(', ');
});
/** Where members have words of their own, the first condition on that field tells them. */
function memberWords(field: string, member: string | null): string {
  const start = `${fieldLabel(view.value.dataset, field)} is `;
  const labels =
    data.value && !isPlaceholderData.value ? data.value.conditions.findLast((condition) => condition.startsWith(start)) : undefined;
  return labels ? labels.slice(start.length) : label.value(field, member);
}

const longest = computed(() => Math.max(...(data.value?.madeOf?.items.map((item) => Math.abs(item.value ?? 0)) ?? [1]), Number.MIN_VALUE));
const barred = computed(() => data.value?.madeOf?.additive && data.value.madeOf.items.every((item) => (item.value ?? 0) >= 0));

type Comparison = Explanation['against'][number];
const difference = ({ difference: value, kind }: Comparison): string => {
  if (value === null) return '–';
  if (kind === 'share') return `${cellText(value, { kind: 'percent', decimals: 1, unit: 'one' }, LOCALE)}\u00a0%`;
  return signedPercent(value, LOCALE, kind === 'points' ? 'pt' : '%');
};

const { hrefOf, follow } = useLinks();
/** Follows a link as it says; with Ctrl or the middle button the browser opens it as any other. */
function followDrill(event: MouseEvent, drill: Explanation['drills'][number]): void {
  if (event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  if (drill.to === 'records') recordsShown.value = true;
  else follow(drill);
}
function inputText({ measure: name, value, text }: Explanation['inputs'][number]): string {
  if (text === undefined) return figureText(value, measureNamed(dataset.value, name).format, LOCALE);
  return planMeasure(dataset.value, name).type === 'date' ? dayLabel(parseIsoDate(text)!, LOCALE) : text;
}
/** A step as it is written: by the format that a formula like it usually has. */
function stepText({ formula, value, text }: Explanation['steps'][number]): string {
  const look = proposedLook(view.value.dataset, formula)?.format ?? { kind: 'number', decimals: 2, unit: 'one' };
  const day = text == null ? undefined : parseIsoDate(text);
  return day === undefined ? (text ?? figureText(value, look, LOCALE)) : dayLabel(day, LOCALE);
}
const readable = (formula: string): string => formula.replaceAll(' * ', ' × ').replaceAll(' / ', ' ÷ ').replaceAll(' - ', ' − ');
</script>

<template>
  <div class="about" :class="{ waiting: isPlaceholderData }">
    <div class="head">
      <p class="place">{{ place }}</p>
      <v-btn variant="text" aria-label="Close the margin" class="close" @click="emit('close')">×</v-btn>
    </div>
    <ProblemState v-if="error && !data" :error="error" @retry="refetch()" @reset="resetScope" />
    <template v-else-if="data">
      <p class="figure">
        <strong class="serif">{{
          textWords ?? (format.kind === 'percent' ? figureText(data.value, format, LOCALE) : cellText(data.value, format, LOCALE))
        }}</strong>
        <span class="serif muted"
          >{{ format.kind === 'percent' || textWords ? '' : unitWords(format, LOCALE) }} {{ measure.label.toLowerCase() }}</span
        >
      </p>
      <p v-if="data.value === null && !textWords" class="reason">{{ data.reason }}</p>
      <p v-if="data.shown" class="reason">
        <template v-if="data.shown.summary !== 'none'">{{ summaryWords(data.shown.summary, 'figures') }}. </template>Worked out from the
        records it is {{ figureText(data.shown.fromRecords, format, LOCALE) }}.
      </p>

      <section aria-labelledby="why">
        <h3 id="why">Why this number</h3>
        <p class="why">
          <code>{{ readable(data.formula) }}</code>
        </p>
        <dl v-if="data.inputs.length" class="inputs">
          <div v-for="input in data.inputs" :key="input.measure">
            <dt>
              {{ input.label }}<small>{{ readable(input.formula) }}</small>
            </dt>
            <dd>{{ inputText(input) }}</dd>
          </div>
        </dl>
        <dl v-if="data.steps.length" class="inputs">
          <div v-for="step in data.steps" :key="step.formula" :title="step.reason">
            <dt>
              <small>{{ readable(step.formula) }}</small>
            </dt>
            <dd>{{ stepText(step) }}</dd>
          </div>
        </dl>
        <p v-for="{ own, moved } in data.dates" :key="moved" class="why dates">
          <strong>{{ own }}</strong> against <strong>{{ moved }}</strong>
        </p>
        <p class="why">
          over
          <v-btn
            v-if="!data.isDifference && data.records.some(({ count }) => count > 0)"
            variant="plain"
            class="inline"
            @click="recordsShown = true"
            >{{ data.records.map((one) => countWords(one.count, one, LOCALE)).join(' and ') }}</v-btn
          >
          <strong v-else>{{ data.records.map((one) => countWords(one.count, one, LOCALE)).join(' and ') }}</strong><template
            v-if="data.conditions.length"
          >
            where</template
          >
        </p>
        <ul v-if="data.conditions.length" class="conditions">
          <li v-for="condition in data.conditions" :key="condition">{{ condition }}</li>
        </ul>
      </section>

      <PinControlTotal
        v-if="canPin"
        :key="JSON.stringify(cell)"
        :dataset="exhibit.dataset ?? report.dataset"
        :measure="measure"
        :value="data.value!"
        :filter="data.filter"
        :conditions="data.conditions"
      />

      <section v-if="data.madeOf" aria-labelledby="made">
        <h3 id="made">
          {{ data.madeOf.additive ? 'Made up of' : 'Next level down' }} <span class="muted">{{ data.madeOf.label }}</span>
        </h3>
        <ul class="parts">
          <li v-for="item in data.madeOf.items" :key="item.label">
            <span class="part">{{ item.label }}</span>
            <svg v-if="barred" class="bar" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
              <rect :width="((item.value ?? 0) / longest) * 100" height="10" />
            </svg>
            <span v-else />
            <span class="amount">{{ cellText(item.value, format, LOCALE) }}</span>
          </li>
        </ul>
        <p v-if="data.madeOf.more" class="muted more">and {{ data.madeOf.more }} more: open the row to see them all.</p>
      </section>

      <section v-if="data.against.length" aria-labelledby="against">
        <h3 id="against">Against</h3>
        <ul class="against">
          <li v-for="one in data.against" :key="one.label">
            <span>{{ one.value === null ? one.label : `${one.label} ${cellText(one.value, format, LOCALE)}` }}</span>
            <span :class="{ good: one.good === true, bad: one.good === false }">{{ difference(one) }}</span>
          </li>
        </ul>
      </section>

      <p class="row-actions">
        <v-btn v-if="rowMembers" variant="text" class="only" @click="onlyThis">Show only {{ rowWords }}</v-btn>
        <v-btn v-if="cell.side.length > 0 && cell.side.length < exhibit.side.fields.length" variant="text" class="only" @click="openRowMenu"
          >Drill down by …</v-btn
        >
        <WatchButton
          v-if="isJudged"
          :exhibit="exhibit.id"
          :watched="cell"
          :label="[measure.label, place].filter((word) => word !== '').join(', ')"
          words
        />
      </p>
      <RowMenu
        v-if="rowMenu"
        :exhibit="exhibit"
        :header="{ path: cell.side, labels: [rowWords] }"
        :target="rowMenu"
        @close="rowMenu = null"
      />

      <section v-if="data.drills.length && !isPlaceholderData" aria-labelledby="drills">
        <h3 id="drills">Drill through to</h3>
        <template v-for="(drill, index) in data.drills" :key="index">
          <p v-if="drill.reason" class="muted">{{ drill.label }}: {{ drill.reason }}</p>
          <component
            :is="drill.to === 'records' ? 'button' : 'a'"
            v-else
            class="drill"
            v-bind="drill.to === 'records' ? { type: 'button' } : { href: hrefOf(drill), rel: 'noopener noreferrer' }"
            @click="followDrill($event, drill)"
          >
            <span>{{ drill.label }}</span>
            <span v-if="drill.to !== 'address'" class="count">{{ new Intl.NumberFormat(LOCALE).format(drill.records) }} ›</span>
            <span v-else class="count" aria-hidden="true">↗</span>
          </component>
        </template>
      </section>
    </template>
    <CellRecords
      v-if="recordsShown"
      v-model="recordsShown"
      :exhibit="exhibit"
      :cell="cell"
      :view-state="viewState"
      :place="place || measure.label"
      :measure="measure.name"
    />
    <p v-else-if="!data && !error" class="muted">Calculating what stands behind this figure …</p>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
.place {
  margin: 0;
  color: var(--ink-2);
  font-size: 13px;
}
.close {
  width: 24px;
  height: 24px;
  margin: -3px -6px 0 0;
  text-align: center;
  color: var(--ink-2);
  font-size: 18px;
}
.figure {
  margin: 2px 0 0;
  font-size: 15px;
}
.figure strong {
  font-size: 23px;
  margin-right: 6px;
}
.reason {
  margin: 4px 0 0;
  color: var(--ink-2);
}
section {
  margin-top: 15px;
}
h3 {
  margin: 0 0 4px;
}
h3 .muted {
  font-weight: 400;
}
.why {
  margin: 0 0 3px;
}
code {
  font-family: var(--sans);
  font-weight: 600;
}
.inputs {
  margin: 4px 0;
}
.inputs div {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  border-bottom: 1px solid var(--rule-2);
  padding: 2px 0;
}
.inputs small {
  display: block;
  color: var(--ink-2);
  font-size: 12px;
}
.inputs dd {
  margin: 0;
  white-space: nowrap;
}
.dates strong {
  display: inline-block;
}
.conditions {
  list-style: none;
  margin: 4px 0 0;
  padding: 0 0 0 10px;
  border-left: 2px solid var(--brass-line);
}
.conditions li {
  padding: 1px 0;
}
.parts,
.against {
  list-style: none;
  margin: 0;
  padding: 0;
}
.parts li {
  display: grid;
  grid-template-columns: minmax(0, 9fr) 8fr auto;
  gap: 8px;
  align-items: center;
  min-height: 22px;
}
.part {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar {
  width: 100%;
  height: 10px;
}
.bar rect {
  fill: var(--sea);
}
.amount {
  min-width: 44px;
  text-align: right;
}
.more {
  margin: 2px 0 0;
  font-size: 12.5px;
}
.against li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 2px 0;
}
.good {
  color: var(--on-text);
  font-weight: 600;
}
.bad {
  color: var(--off-text);
  font-weight: 600;
}
.drill {
  width: 100%;
  background: none;
  font: inherit;
  text-align: left;
  cursor: pointer;
  display: flex;
  justify-content: space-between;
  padding: 6px 12px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
  margin-top: 6px;
}
.drill:hover {
  border-color: var(--brass-line);
}
.count {
  color: var(--brass);
}
.row-actions {
  display: flex;
  gap: 14px;
  margin: 10px 0 0;
}
.only {
  padding-inline: 0;
}
</style>
