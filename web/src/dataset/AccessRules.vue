<script setup lang="ts">
import { accessViewSchema, membersResponseSchema, type AccessView } from '@bold-compass/core/api';
import { fieldLabel, type Dataset } from '@bold-compass/core/model';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref, shallowRef, watch } from 'vue';
import { ApiProblem, ask } from '../api/client.ts';
import { useViewAs } from '../api/view-as.ts';
import ProblemState from '../report/ProblemState.vue';
import { useGoOn } from '../shell/go-on.ts';

/** Who sees which members of the dataset; a rule on a level holds for everything below it. */
const props = defineProps<{ dataset: Dataset; report: string | null }>();
const goOn = useGoOn();
const queries = useQueryClient();
const { data: view, error } = useQuery({
  queryKey: computed(() => ['access', props.dataset.name]),
  queryFn: ({ signal }) => ask(accessViewSchema, 'GET', `/datasets/${props.dataset.name}/access`, undefined, signal),
});
type Rule = AccessView['rules'][number];
const message = ref('');
const who = ref('');
const field = ref('');
const members = ref<string[]>([]);
const levels = computed(() => props.dataset.dimensions.flatMap((dimension) => (dimension.kind === 'table' ? dimension.levels : [])));
const offered = shallowRef<{ member: string; label: string }[]>([]);
watch(field, async (now) => {
  members.value = [];
  offered.value = [];
  if (now === '' || !props.report) return;
  const { members: found } = await ask(membersResponseSchema, 'POST', `/reports/${props.report}/members`, {
    field: now,
    scope: {},
    draft: true,
  });
  offered.value = found.flatMap(({ member, label }) => (member === null ? [] : [{ member, label }]));
});
const name = ({ person, group }: Rule): string =>
  person
    ? (view.value?.people.find(({ id }) => id === person)?.name ?? person)
    : (view.value?.groups.find(({ id }) => id === group)?.name ?? group ?? '');
/** Which rules hold for a person: their own and those of their groups. */
const rulesOf = (person: AccessView['people'][number]): Rule[] =>
  view.value?.rules.filter((rule) => rule.person === person.id || (rule.group !== null && person.groups.includes(rule.group))) ?? [];
const managers = computed(() => view.value?.people.filter(({ role }) => role === 'manager') ?? []);

/** What could not be saved since someone else saved rules in the meantime, with the revision that is there now. */
const refused = shallowRef<{ rules: Rule[]; revision: number } | null>(null);
async function save(rules: Rule[], revision = view.value!.revision): Promise<void> {
  message.value = '';
  refused.value = null;
  try {
    const saved = await ask(accessViewSchema, 'PUT', `/datasets/${props.dataset.name}/access`, { rules, revision });
    queries.setQueryData(['access', props.dataset.name], saved);
    void queries.invalidateQueries({ queryKey: ['datasets'] });
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This was not saved. Try again.';
    if (problem instanceof ApiProblem && problem.revision !== undefined) refused.value = { rules, revision: problem.revision };
  }
}
async function reload(): Promise<void> {
  message.value = '';
  refused.value = null;
  await queries.invalidateQueries({ queryKey: ['access', props.dataset.name] });
}
async function add(): Promise<void> {
  const [kind, id] = [who.value.slice(0, who.value.indexOf(' ')), who.value.slice(who.value.indexOf(' ') + 1)];
  await save([
    ...view.value!.rules,
    { person: kind === 'person' ? id : null, group: kind === 'group' ? id : null, field: field.value, members: members.value },
  ]);
  if (message.value === '') [who.value, field.value] = ['', ''];
}
const { begin } = useViewAs();
async function lookAs(person: AccessView['people'][number]): Promise<void> {
  begin(person.id, person.name);
  queries.clear();
  await goOn('/reports');
}

const MANAGER_HEADERS = [
  { key: 'name', title: 'Manager' },
  { key: 'sees', title: 'Sees' },
  { key: 'actions', title: 'Actions', sortable: false, align: 'end' },
] as const;
const sights = computed(() =>
  managers.value.map((person) => ({
    ...person,
    sees:
      rulesOf(person)
        .map((rule) => `${fieldLabel(props.dataset, rule.field)}: ${rule.members.join(', ')}`)
        .join('; ') || 'everything',
  })),
);
</script>

<template>
  <ProblemState v-if="error" :error="error" />
  <div v-else-if="view" class="access">
    <section v-if="!view.decided" class="undecided" aria-label="Access is not decided">
      <p>
        <strong>Only {{ view.owner ?? 'nobody' }} sees this dataset so far.</strong> Add a rule, or let everyone see every record; until
        then no report over it can be published.
      </p>
      <v-btn color="primary" variant="flat" @click="save([])">Give everyone access</v-btn>
    </section>
    <p class="muted">
      Rules hold on every path out, as soon as they are saved. People without a rule see everything; several rules on one level add up, on
      several levels all must hold.
    </p>
    <p v-if="message" class="failure" role="alert">
      {{ message }}
      <template v-if="refused">
        <v-btn @click="reload">Reload</v-btn>
        <v-btn @click="save(refused.rules, refused.revision)">Overwrite</v-btn>
      </template>
    </p>
    <h2>Rules</h2>
    <table class="ruled">
      <tbody>
        <tr v-for="(rule, index) in view.rules" :key="index">
          <td>
            <strong>{{ name(rule) }}</strong><span class="muted">{{ rule.group ? ' (group)' : '' }}</span>
          </td>
          <td>sees {{ fieldLabel(dataset, rule.field) }}: {{ rule.members.join(', ') }}</td>
          <td class="end">
            <v-btn
              variant="plain"
              :aria-label="`Remove the rule of ${name(rule)}`"
              class="inline"
              @click="save(view.rules.filter((one) => one !== rule))"
            >
              Remove
            </v-btn>
          </td>
        </tr>
        <tr v-if="view.rules.length === 0">
          <td class="muted">{{ view.decided ? 'None: everyone sees everything.' : 'None yet.' }}</td>
        </tr>
      </tbody>
    </table>
    <form class="add" aria-label="Add a rule" @submit.prevent="add">
      <v-select
        v-model="who"
        aria-label="Who"
        :items="[
          { value: '', title: 'Who' },
          ...view.groups.map((group) => ({ value: `group ${group.id}`, title: group.name })),
          ...view.people.map((person) => ({ value: `person ${person.id}`, title: person.name })),
        ]"
      />
      <v-select
        v-model="field"
        aria-label="Level"
        :items="[{ value: '', title: 'Which level' }, ...levels.map((level) => ({ value: level.name, title: level.label }))]"
      />
      <v-select
        v-if="offered.length > 0"
        v-model="members"
        multiple
        aria-label="Members"
        size="5"
        :items="offered.map((one) => ({ value: one.member, title: one.label }))"
      />
      <v-btn color="primary" variant="flat" type="submit" :disabled="who === '' || field === '' || members.length === 0">Add rule</v-btn>
    </form>
    <h2>What each manager sees</h2>
    <v-data-table :headers="MANAGER_HEADERS" :items="sights" item-value="id" aria-label="What each manager sees">
      <template #[`item.name`]="{ item }">
        <strong>{{ item.name }}</strong> <span class="muted">{{ item.title }}</span>
      </template>
      <template #[`item.actions`]="{ item }">
        <v-btn :aria-label="`View as ${item.name}`" @click="lookAs(item)">View as</v-btn>
      </template>
    </v-data-table>
  </div>
</template>

<style scoped>
.access {
  margin-top: 14px;
}
h2 {
  margin-top: 20px;
  padding-bottom: 5px;
  border-bottom: 2px solid var(--ink);
}
.end {
  text-align: right;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-start;
  margin-top: 10px;
}
.failure {
  color: var(--off-text);
}
.undecided {
  border-left: 3px solid var(--drift);
  background: var(--brass-tint);
  padding: 10px 14px;
  margin-bottom: 14px;
}
.undecided p {
  margin: 0 0 8px;
}
</style>
