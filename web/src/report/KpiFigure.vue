<script setup lang="ts">
import type { KpiResponse } from '@bold-compass/core/api';
import { readingWords, STATE_WORDS } from '@bold-compass/core/indicators';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { fieldLabel, fieldPlural, measureNamed, type Kpi, type KpiStrip } from '@bold-compass/core/model';
import { computed } from 'vue';
import BearingNeedle from './BearingNeedle.vue';
import BulletBar from './BulletBar.vue';
import { useReport } from './context.ts';
import KpiTrend from './KpiTrend.vue';
import { useLinks } from './links.ts';
import { STATE_COLOURS } from './state-words.ts';
import WatchButton from './WatchButton.vue';

/** A KPI: its figure and how it stands, with its trend and who is off course where that is asked for. */
const props = defineProps<{ exhibit: KpiStrip; kpi: Kpi; reading: KpiResponse[number] | undefined }>();
const { scope, view, composing, setScope } = useReport();
const { readyLink, hrefOf, follow } = useLinks();

const PERCENT = { kind: 'percent', decimals: 1, unit: 'one' } as const;
const format = computed(() => props.kpi.format ?? measureNamed(view.value.dataset, props.kpi.measure).format);
const link = computed(() => (props.kpi.link && !composing.value ? readyLink(props.exhibit, props.kpi.link) : null));

/** How the value stands: "96.6 % of target", "+2.2 pt against 43 %", "+6.2 % on last year". */
const viewState = computed(() =>
  readingWords(view.value.dataset, props.kpi, props.reading ?? { attainment: null, reason: '' }, format.value, LOCALE),
);

const rollUp = computed(() => props.reading?.rollUp);
/** How many members are off course: "4 of 19 countries off course". */
const rollUpWords = computed(() => {
  if (!rollUp.value) return '';
  const { field, total, counts } = rollUp.value;
  const off = (counts.off ?? 0) + (counts.far ?? 0);
  const members = total === 1 ? fieldLabel(view.value.dataset, field).toLowerCase() : fieldPlural(view.value.dataset, field);
  return `${off === 0 ? 'None' : off} of ${total} ${members} off course`;
});
/** What a member reached, as the indicator counts it. */
const reached = (attainment: number | null): string =>
  figureText(attainment, props.kpi.indicator.by === 'ratio' ? PERCENT : format.value, LOCALE);
/** Makes a member the whole of what is shown; the scope line says so, and Back leads to what was before. */
const showOnly = (field: string, member: string): void => setScope({ ...scope.value, [field]: [member] });
</script>

<template>
  <div :class="`show-${kpi.show}`">
    <dt>
      <a v-if="link" class="leads" :href="hrefOf(link)" :title="link.label" rel="noopener noreferrer" @click.exact.prevent="follow(link)">{{
        kpi.label
      }}</a>
      <template v-else>{{ kpi.label }}</template>
      <WatchButton v-if="!composing && kpi.indicator.by !== 'spread'" :exhibit="exhibit.id" :watched="{ kpi: kpi.id }" :label="kpi.label" />
    </dt>
    <template v-if="reading">
      <dd class="value serif">
        {{ figureText(reading.value, format, LOCALE) }}
        <BearingNeedle :state="reading.state" :turn="reading.bearing" :size="kpi.show === 'large' ? 30 : 20" />
      </dd>
      <dd v-if="kpi.show === 'bullet'">
        <BulletBar :value="reading.value" :target="reading.target" :limits="reading.limits" :state="reading.state" />
      </dd>
      <dd class="attainment">
        <span class="word" :class="STATE_COLOURS[reading.state]">{{ STATE_WORDS[reading.state] }}</span>{{ viewState && ` · ${viewState}` }}
      </dd>
      <dd v-if="reading.trend"><KpiTrend :points="reading.trend" :format="format" /></dd>
      <dd v-if="rollUp" class="roll-up">
        <span v-if="rollUp.off.length === 0" class="muted">{{ rollUpWords }}</span>
        <v-menu v-else>
          <template #activator="{ props: activator }">
            <v-btn v-bind="activator" variant="plain" class="inline" :aria-owns="undefined">{{ rollUpWords }}</v-btn>
          </template>
          <v-list min-width="190">
            <v-list-item
              v-for="member in rollUp.off"
              :key="member.label"
              :title="member.label"
              :disabled="member.member === null"
              @click="member.member !== null && showOnly(rollUp.field, member.member)"
            >
              <template #append>
                <span class="reached">{{ reached(member.attainment) }}</span>
                <BearingNeedle :state="member.state" :turn="member.bearing" />
              </template>
            </v-list-item>
          </v-list>
        </v-menu>
      </dd>
    </template>
    <dd v-else class="value waiting-line" aria-hidden="true" />
  </div>
</template>

<style scoped>
dt {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 28px;
  font-weight: 600;
  font-size: 12.5px;
  color: var(--ink-2);
}
dd {
  margin: 0;
}
.value {
  font-size: 25px;
  line-height: 1.3;
  display: flex;
  align-items: center;
  gap: 10px;
  white-space: nowrap;
}
.show-large {
  container-type: inline-size;
}
.show-large .value {
  font-size: clamp(22px, 15cqw, 40px);
  line-height: 1.15;
}
.show-large .attainment {
  font-size: 14px;
}
.show-large dt {
  font-size: 14px;
}
.roll-up {
  margin-top: 3px;
  font-size: 12.5px;
}
.reached {
  margin-right: 8px;
  font-variant-numeric: tabular-nums;
}
.attainment {
  font-size: 12.5px;
  color: var(--ink-2);
}
.word {
  font-weight: 700;
}
.word.on {
  color: var(--on-text);
}
.word.drifting {
  color: var(--drift-text);
}
.word.off {
  color: var(--off-text);
}
.waiting-line {
  height: 24px;
  width: 60%;
  margin-top: 8px;
  border-radius: 4px;
  background: var(--rule-2);
}
.leads {
  color: inherit;
  text-decoration: none;
  border-bottom: 1.2px dotted var(--brass-line);
}
@media (max-width: 700px) {
  .value {
    font-size: 20px;
  }
}
</style>
