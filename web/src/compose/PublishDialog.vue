<script setup lang="ts">
import { audienceSchema, comparedSchema, type Audience } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { z } from 'zod';
import { useRoute } from 'vue-router';
import { ApiProblem, ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import { asItStands, standsOtherwise } from './as-it-stands.ts';
import { useCompose } from './context.ts';

/** Makes an edition of the draft, with a note; says first what managers will see changed. */
const props = defineProps<{ report: string; newest: number | null; settled: () => Promise<void>; revision: () => number }>();
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ published: [edition: number] }>();

const route = useRoute();
const { report: written, setReport } = useCompose();
const { scope, choices, wording } = useReport();
const now = computed(() => ({ scope: scope.value, choices: choices.value }));
/** What is chosen, ordered and opened here, and is not yet what readers begin with. */
const otherwise = computed(() => standsOtherwise(written.value, now.value, route.query, wording.value));
const beginsSo = ref(false);

const note = ref('');
const message = ref('');
const busy = ref(false);
watch(open, () => {
  note.value = '';
  agreed.value = false;
  beginsSo.value = false;
  message.value = '';
});
const { data: compared } = useQuery({
  queryKey: computed(() => ['to be published', props.report, props.newest, open.value]),
  queryFn: async ({ signal }) => {
    await props.settled();
    return ask(comparedSchema, 'GET', `/reports/${props.report}/editions/${props.newest}/changes`, undefined, signal);
  },
  enabled: computed(() => open.value && props.newest !== null),
  gcTime: 0,
});
const { data: audience } = useQuery({
  queryKey: computed(() => ['audience', props.report, open.value]),
  queryFn: async ({ signal }) => {
    await props.settled();
    return ask(audienceSchema, 'GET', `/reports/${props.report}/audience`, undefined, signal);
  },
  enabled: open,
  gcTime: 0,
});
/** Datasets that nobody but their maker sees so far: publishing them is deciding who does. */
const undecided = computed(() => audience.value?.filter(({ decided }) => !decided) ?? []);
const agreed = ref(false);
const waits = computed(() => undecided.value.length > 0 && !agreed.value);
const named = (names: string[]): string =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ');
const everyone = (one: Audience[number]): string => named(one.people.filter(({ sees }) => sees === '').map(({ name }) => name));
const limited = (one: Audience[number]): Audience[number]['people'] => one.people.filter(({ sees }) => sees !== '');
async function publish(): Promise<void> {
  busy.value = true;
  message.value = '';
  try {
    if (beginsSo.value) setReport(asItStands(written.value, now.value, route.query));
    await props.settled();
    const { edition } = await ask(z.object({ edition: z.number() }), 'POST', `/reports/${props.report}/publish`, {
      note: note.value,
      revision: props.revision(),
      open: undecided.value.map(({ dataset }) => dataset),
    });
    open.value = false;
    emit('published', edition);
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This did not work. Try again.';
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" :aria-label="`Publish edition ${(newest ?? 0) + 1}`">
    <v-card tag="form" class="sheet" @submit.prevent="publish">
      <h2>Publish edition {{ (newest ?? 0) + 1 }}</h2>
      <p class="muted">Managers see it at once, each what is theirs. Your draft stays yours.</p>
      <template v-if="compared">
        <p v-if="compared.changes.length === 0">Nothing has changed since edition {{ newest }}.</p>
        <ul v-else aria-label="What changes for readers">
          <li v-for="change in compared.changes.slice(0, 12)" :key="change">{{ change }}</li>
          <li v-if="compared.changes.length > 12" class="muted">and {{ compared.changes.length - 12 }} more</li>
        </ul>
      </template>
      <section v-for="one in audience" :key="one.dataset" class="audience" :aria-label="`Who sees ${one.label}`">
        <template v-if="one.decided">
          <p v-if="everyone(one)">
            <strong>{{ one.label }}:</strong> {{ everyone(one) }} see every record.
          </p>
          <ul v-if="limited(one).length > 0">
            <li v-for="person in limited(one)" :key="person.id">{{ person.name }}: {{ person.sees }}</li>
          </ul>
        </template>
        <template v-else>
          <p>
            <strong>Only you see {{ one.label }} so far.</strong> Published without access rules, {{ everyone(one) || 'nobody else' }} would
            see every record.
          </p>
          <v-checkbox v-model="agreed" :label="`Let everyone see every record of ${one.label}`" density="compact" hide-details />
          <p class="muted">
            Or set <RouterLink :to="{ name: 'dataset', params: { dataset: one.dataset } }">access rules</RouterLink> first.
          </p>
        </template>
      </section>
      <template v-if="otherwise.length > 0">
        <v-checkbox v-model="beginsSo" label="Readers begin with what is chosen and ordered here" density="compact" hide-details />
        <ul class="begins" aria-label="What readers would begin with">
          <li v-for="words in otherwise" :key="words" class="muted">{{ words }}</li>
        </ul>
      </template>
      <v-text-field v-model="note" label="Note" maxlength="500" />
      <p v-if="message" class="failure" role="alert">{{ message }}</p>
      <div class="actions">
        <v-btn @click="open = false">Cancel</v-btn>
        <v-btn color="primary" variant="flat" type="submit" :disabled="busy || waits || !audience">Publish</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
}
label {
  display: grid;
  gap: 3px;
  font-size: 13px;
  color: var(--ink-2);
}
.failure {
  color: var(--off-text);
  margin: 0;
}
.audience {
  border-top: 1px solid var(--rule-2);
  padding-top: 8px;
}
.audience :deep(.v-label) {
  font-size: 14px;
  opacity: 1;
}
.audience p {
  margin: 0 0 4px;
}
.actions {
  display: flex;
  justify-content: end;
  gap: 8px;
}
</style>
