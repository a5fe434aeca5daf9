<script setup lang="ts">
import { kpiResponseSchema, type KpiResponse } from '@bold-compass/core/api';
import { figureText, signedPercent } from '@bold-compass/core/format';
import { fieldLabel, fieldPlural, measureNamed, type Kpi, type KpiStrip } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { ask } from '../api/client.ts';
import BearingNeedle from './BearingNeedle.vue';
import { useReport } from './context.ts';
import ProblemState from './ProblemState.vue';
import BulletBar from './BulletBar.vue';
import { useLinks } from './links.ts';
import WatchButton from './WatchButton.vue';
import KpiTrend from './KpiTrend.vue';
import { LOCALE, STATE_COLOURS, STATE_WORDS } from './state-words.ts';

const props = defineProps<{ exhibit: KpiStrip }>();
const { report, scope, asked, draft, versionOf, view, composing, setScope, resetScope } = useReport();
const { readyLink, hrefOf, follow } = useLinks();

const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['kpis', report.value.id, versionOf(props.exhibit.id), props.exhibit.id, asked.value]),
  queryFn: async ({ signal }) => {
    // The cross-tab asks first: its answer is what the reader waits for.
    await new Promise((resolve) => setTimeout(resolve, 20));
    return ask(
      kpiResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${props.exhibit.id}/kpis`,
      { ...asked.value, draft: draft.value },
      signal,
    );
  },
  placeholderData: keepPreviousData,
});

type Reading = KpiResponse[number];
const readings = computed(() => new Map(data.value?.map((reading) => [reading.id, reading])));
const formatOf = (kpi: Kpi) => kpi.format ?? measureNamed(view.value.dataset, kpi.measure).format;

/** How the value stands: "96.6 % of target", "+2.2 pt against 43 %", "+6.2 % on last year". */
function attainmentText(kpi: Kpi, reading: Reading): string {
  if (reading.attainment === null)
    return kpi.indicator.by === 'spread' ? 'Judged member by member.' : reading.reason || 'Nothing to hold it against.';
  if (kpi.indicator.by === 'value') return kpi.words;
  if (kpi.indicator.by === 'difference') {
    const percent = formatOf(kpi).kind === 'percent';
    return `${percent ? signedPercent(reading.attainment, LOCALE, 'pt') : figureText(reading.attainment, formatOf(kpi), LOCALE)} ${kpi.words}`;
  }
  if (kpi.indicator.against.kind === 'back') return `${signedPercent(reading.attainment - 1, LOCALE)} ${kpi.words}`;
  return `${figureText(reading.attainment, { kind: 'percent', decimals: 1, unit: 'one' }, LOCALE)} ${kpi.words}`;
}
/** The words for how many members are off course: "4 of 19 countries off course". */
function rollUpText({ field, total, counts }: NonNullable<Reading['rollUp']>): string {
  const off = (counts.off ?? 0) + (counts.far ?? 0);
  const members = total === 1 ? fieldLabel(view.value.dataset, field).toLowerCase() : fieldPlural(view.value.dataset, field);
  return `${off === 0 ? 'None' : off} of ${total} ${members} off course`;
}
/** What a member reached, as the indicator counts it. */
function memberText(kpi: Kpi, reached: number | null): string {
  if (kpi.indicator.by === 'ratio') return figureText(reached, { kind: 'percent', decimals: 1, unit: 'one' }, LOCALE);
  return figureText(reached, formatOf(kpi), LOCALE);
}
/** Makes a member the whole of what is shown; the scope line says so, and Back leads to what was before. */
function showOnly(field: string, member: string): void {
  setScope({ ...scope.value, [field]: [member] });
}
</script>

<template>
  <section class="strip" :aria-label="exhibit.title" :aria-busy="isPlaceholderData">
    <ProblemState v-if="error && !data" :error="error" @retry="refetch()" @reset="resetScope" />
    <dl v-else class="kpis" :class="{ waiting: isPlaceholderData }">
      <div v-for="kpi in exhibit.kpis" :key="kpi.id" class="kpi" :class="`show-${kpi.show}`">
        <dt>
          <a
            v-if="kpi.link && !composing"
            class="leads"
            :href="hrefOf(readyLink(exhibit, kpi.link))"
            :title="kpi.link.label"
            rel="noopener noreferrer"
            @click.exact.prevent="follow(readyLink(exhibit, kpi.link))"
            >{{ kpi.label }}</a
          >
          <template v-else>{{ kpi.label }}</template>
          <WatchButton
            v-if="!composing && kpi.indicator.by !== 'spread'"
            :exhibit="exhibit.id"
            :watched="{ kpi: kpi.id }"
            :label="kpi.label"
          />
        </dt>
        <template v-if="readings.get(kpi.id)">
          <dd class="value serif">
            {{ figureText(readings.get(kpi.id)!.value, formatOf(kpi), LOCALE) }}
            <BearingNeedle
              :state="readings.get(kpi.id)!.state"
              :turn="readings.get(kpi.id)!.bearing"
              :size="kpi.show === 'large' ? 30 : 20"
            />
          </dd>
          <dd v-if="kpi.show === 'bullet'">
            <BulletBar v-bind="readings.get(kpi.id)!" />
          </dd>
          <dd class="attainment">
            <span class="word" :class="STATE_COLOURS[readings.get(kpi.id)!.state]">{{ STATE_WORDS[readings.get(kpi.id)!.state] }}</span>
            · {{ attainmentText(kpi, readings.get(kpi.id)!) }}
          </dd>
          <dd v-if="readings.get(kpi.id)!.trend"><KpiTrend :points="readings.get(kpi.id)!.trend!" :format="formatOf(kpi)" /></dd>
          <dd v-if="readings.get(kpi.id)!.rollUp" class="roll-up">
            <span v-if="readings.get(kpi.id)!.rollUp!.off.length === 0" class="muted">{{ rollUpText(readings.get(kpi.id)!.rollUp!) }}</span>
            <v-menu v-else>
              <template #activator="{ props: activator }">
                <v-btn v-bind="activator" variant="plain" class="inline" :aria-owns="undefined">
                  {{ rollUpText(readings.get(kpi.id)!.rollUp!) }}
                </v-btn>
              </template>
              <v-list min-width="190">
                <v-list-item
                  v-for="member in readings.get(kpi.id)!.rollUp!.off"
                  :key="member.label"
                  :title="member.label"
                  :disabled="member.member === null"
                  @click="showOnly(readings.get(kpi.id)!.rollUp!.field, member.member!)"
                >
                  <template #append>
                    <span class="reached">{{ memberText(kpi, member.attainment) }}</span>
                    <BearingNeedle :state="member.state" :turn="member.bearing" />
                  </template>
                </v-list-item>
              </v-list>
            </v-menu>
          </dd>
        </template>
        <dd v-else class="value waiting-line" aria-hidden="true" />
      </div>
    </dl>
  </section>
</template>

<style scoped>
.strip {
  margin-top: 12px;
}
.kpis {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(165px, 100%), 1fr));
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  margin: 0;
}
.kpi {
  padding: 9px 12px 9px 16px;
  border-left: 1px solid var(--rule);
  min-height: 84px;
}
.kpi:first-child {
  border-left: 0;
  padding-left: 0;
}
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
@media (max-width: 700px) {
  .kpis {
    grid-template-columns: 1fr 1fr;
  }
  .kpi {
    padding: 8px 8px 8px 10px;
    border-top: 1px solid var(--rule-2);
    min-height: 0;
  }
  .kpi.show-large {
    grid-column: 1 / -1;
  }
  .kpi:nth-child(odd),
  .kpi.show-large {
    border-left: 0;
    padding-left: 0;
  }
  .kpi:nth-child(-n + 2) {
    border-top: 0;
  }
  .value {
    font-size: 20px;
  }
}
.leads {
  color: inherit;
  text-decoration: none;
  border-bottom: 1.2px dotted var(--brass-line);
}
</style>
