<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { STATE_WORDS } from '@bold-compass/core/indicators';
import { mailSchema, watchSchema, type Signal, type Watch } from '@bold-compass/core/api';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, onMounted, ref } from 'vue';
import type { RouteLocationRaw } from 'vue-router';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import BearingNeedle from '../report/BearingNeedle.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { useSignals } from '../report/watching.ts';

/** What a person was told of figures that they watch, which these are, and the simulated mail box. */
const queries = useQueryClient();
const { data, error, refetch } = useSignals({ every: 15_000 });
const tab = ref<'signals' | 'watched' | 'mail'>('signals');
const { data: letters } = useQuery({
  queryKey: computed(() => ['mailbox', data.value?.signals[0]?.id ?? 0]),
  queryFn: ({ signal }) => ask(z.array(mailSchema), 'GET', '/mailbox', undefined, signal),
});
/** Those that were new when the page was opened stay marked while it is open. */
const fresh = ref(new Set<number>());
onMounted(async () => {
  const { data: found } = await refetch();
  fresh.value = new Set(found?.signals.filter(({ isNew }) => isNew).map(({ id }) => id));
  if (fresh.value.size > 0) {
    await ask(z.object({}), 'POST', '/signals/seen', {});
    await queries.invalidateQueries({ queryKey: ['signals'] });
  }
});
const leadsTo = ({ report, query }: Pick<Signal, 'report' | 'query'>): RouteLocationRaw => ({ name: 'report', params: { report }, query });
const dayAndTime = (at: string): string =>
  new Intl.DateTimeFormat(LOCALE, { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(at));
async function unwatch({ id }: Watch): Promise<void> {
  await ask(z.array(watchSchema), 'DELETE', `/watches/${id}`);
  await queries.invalidateQueries({ queryKey: ['signals'] });
}
</script>

<template>
  <div class="page">
    <h1>Signals</h1>
    <p class="muted">A signal is raised once, when a figure that you watch changes its state.</p>
    <ProblemState v-if="error && !data" :error="error" @retry="refetch()" />
    <template v-else-if="data">
      <v-tabs v-model="tab" class="tabs" aria-label="Parts of the signals">
        <v-tab value="signals">Signals</v-tab>
        <v-tab value="watched">Watched figures ({{ data.watches.length }})</v-tab>
        <v-tab value="mail">Mailbox (simulated)</v-tab>
      </v-tabs>
      <section v-if="tab === 'signals'" aria-label="Signals">
        <ExhibitState
          v-if="data.signals.length === 0"
          kind="empty"
          title="Nothing has changed its state"
          message="Watch a figure by the bell beside a KPI, or by “Watch” in the margin of a figure with an indicator."
        />
        <ul v-else class="lines">
          <li v-for="one in data.signals" :key="one.id" :class="{ fresh: fresh.has(one.id) }">
            <span class="change">
              <BearingNeedle :state="one.before" :size="20" />
              <span aria-hidden="true">→</span>
              <BearingNeedle :state="one.after" :size="20" />
            </span>
            <span>
              <RouterLink :to="leadsTo(one)" class="leads">{{ one.label }}</RouterLink>
              was {{ STATE_WORDS[one.before].toLowerCase() }} ({{ one.valueBefore }}) and is
              <b>{{ STATE_WORDS[one.after].toLowerCase() }}</b> ({{ one.valueAfter }}).
              <small class="muted">{{ one.title }} · {{ dayAndTime(one.at) }}</small>
            </span>
          </li>
        </ul>
      </section>
      <section v-else-if="tab === 'watched'" aria-label="Watched figures">
        <ExhibitState
          v-if="data.watches.length === 0"
          kind="empty"
          title="You watch no figure yet"
          message="Choose the bell beside a KPI."
        />
        <ul v-else class="lines">
          <li v-for="one in data.watches" :key="one.id">
            <span class="change"><BearingNeedle :state="one.state" :size="20" /></span>
            <span>
              <RouterLink :to="leadsTo(one)" class="leads">{{ one.label }}</RouterLink> · {{ STATE_WORDS[one.state].toLowerCase() }}
              <small class="muted">{{ one.title }}</small>
              <small v-if="one.problem" class="problem">{{ one.problem }}</small>
            </span>
            <v-btn variant="text" :aria-label="`Stop watching ${one.label}`" @click="unwatch(one)">Stop watching</v-btn>
          </li>
        </ul>
      </section>
      <section v-else aria-label="Mailbox">
        <p class="muted">No mail leaves this installation: these letters would have been sent to you.</p>
        <ExhibitState v-if="!letters?.length" kind="empty" title="No letters" message="Each signal sends one." />
        <article v-for="letter in letters" :key="letter.id" class="letter">
          <h2>{{ letter.subject }}</h2>
          <p class="muted">To {{ letter.to }} · {{ dayAndTime(letter.at) }}</p>
          <p>{{ letter.text }}</p>
        </article>
      </section>
    </template>
  </div>
</template>

<style scoped>
.page {
  padding: 18px 30px 40px;
  max-width: 900px;
}
.tabs {
  margin: 12px 0 14px;
}
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.lines li {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 9px 6px;
  border-bottom: 1px solid var(--rule-2);
}
.lines li > span:nth-child(2) {
  flex: 1;
}
.fresh {
  background: var(--brass-tint);
}
.change {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-width: 64px;
}
.leads {
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 1.2px dotted var(--brass-line);
}
small {
  display: block;
}
.problem {
  color: var(--off-text);
}
.letter {
  border-top: 1px solid var(--rule);
  padding: 10px 0;
}
.letter h2 {
  font-size: 16px;
}
.letter p {
  margin: 2px 0;
}
</style>
