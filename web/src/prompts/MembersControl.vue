<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { LOCALE, countWords } from '@bold-compass/core/format';
import { fieldLabel, fieldPlural, fieldsAbove, type MembersPrompt } from '@bold-compass/core/model';
import { choiceOf, excludedMembers, exclusion } from '@bold-compass/core/prompts';
import { mdiCheckboxBlankOutline, mdiCheckboxMarked, mdiMinusBoxOutline, mdiRadioboxBlank, mdiRadioboxMarked } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import { found, offered } from './found-members.ts';
import { moveAmong } from './move-among.ts';

/** Members of a field to choose from, with the records that each leaves: these, or all but these. */
const props = defineProps<{ prompt: MembersPrompt; field: string }>();
const emit = defineEmits<{ done: [] }>();
const { report, scope, choices, where, draft, version, view, setScope, setChoice } = useReport();

const search = ref('');
const list = ref<HTMLElement | null>(null);
const dataset = computed(() => view.value.dataset);
/** Members that are left out, by field. */
const excluded = computed(() => excludedMembers(choiceOf(props.prompt, choices.value)) ?? new Map<string, string[]>());
const isOwn = computed(() => report.value.prompts.some(({ id }) => id === props.prompt.id));
const allBut = ref((excluded.value.get(props.field)?.length ?? 0) > 0);
const chosen = computed(() => (allBut.value ? (excluded.value.get(props.field) ?? []) : (scope.value[props.field] ?? [])));

/** The fields after this one in the same prompt. */
const finer = computed(() => props.prompt.fields.slice(props.prompt.fields.indexOf(props.field) + 1));
/** The coarser fields of the same prompt, which a finer choice settles. */
const coarser = computed(() => props.prompt.fields.slice(0, props.prompt.fields.indexOf(props.field)));
/** The scope that decides what is offered: what is chosen here, or below, changes nothing in it. */
const around = computed(() =>
  Object.fromEntries(Object.entries(scope.value).filter(([field]) => field !== props.field && !finer.value.includes(field))),
);

const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['members', report.value.id, version.value, props.field, around.value, choices.value, where.value]),
  queryFn: ({ signal }) =>
    ask(
      membersResponseSchema,
      'POST',
      `/reports/${report.value.id}/members`,
      {
        ...{ field: props.field, scope: around.value, choices: choices.value, where: where.value, draft: draft.value },
        ...(coarser.value.length > 0 ? { tree: true } : {}),
      },
      signal,
    ),
  placeholderData: (previous) => previous,
});

const members = computed(() => offered(data.value?.members ?? []));
const shown = computed(() => found(members.value, search.value));
const long = computed(() => (data.value?.members.length ?? 0) > 9);
/** Among many one begins by searching. */
const box = ref<{ focus(): void } | null>(null);
watch(box, (own) => own && requestAnimationFrame(() => own.focus()));
const on = computed(() => (allBut.value ? mdiMinusBoxOutline : props.prompt.multiple ? mdiCheckboxMarked : mdiRadioboxMarked));
const off = computed(() => (props.prompt.multiple || allBut.value ? mdiCheckboxBlankOutline : mdiRadioboxBlank));
const counts = new Intl.NumberFormat(LOCALE);
const every = computed(() => `Every ${fieldLabel(dataset.value, props.field).toLowerCase()}`);

/** The members of coarser fields that all chosen members stand under; only where it is one for each. */
function settled(members: string[]): Record<string, string[]> {
  const own: Record<string, string[]> = {};
  const above = fieldsAbove(dataset.value, props.field);
  const paths = (data.value?.members ?? []).filter(({ member }) => members.includes(member)).map(({ paths: all }) => all ?? []);
  if (paths.length === 0 || paths.some((all) => all.length !== 1)) return own;
  for (const field of coarser.value) {
    const level = above.indexOf(field);
    const parents = new Set(paths.map(([path]) => (level < 0 ? null : path[level])));
    const [parent] = parents;
    if (parents.size === 1 && parent != null && !(scope.value[field]?.length ?? 0)) own[field] = [parent];
  }
  return own;
}

function choose(members: string[]): void {
  if (allBut.value) return leaveOut(members);
  const next = { ...scope.value, ...settled(members), [props.field]: members };
  setScope(next, props.field);
  if (!props.prompt.multiple) emit('done');
}
function leaveOut(members: string[]): void {
  const kept = new Map(excluded.value).set(props.field, members);
  const choice = [...kept].filter(([, own]) => own.length > 0).map(([field, own]) => exclusion(field, own));
  const next = { ...scope.value };
  delete next[props.field];
  setChoice(props.prompt.id, choice.length > 0 ? choice : undefined, next);
}
/** The same members the other way round: these, or all but these. */
function turn(isAllBut: boolean | null): void {
  const members = chosen.value;
  allBut.value = Boolean(isAllBut);
  if (members.length === 0) return;
  if (allBut.value) return leaveOut(members);
  const choice = [...excluded.value].filter(([field]) => field !== props.field).map(([field, own]) => exclusion(field, own));
  setChoice(props.prompt.id, choice.length > 0 ? choice : undefined, { ...scope.value, [props.field]: members });
}
function toggle(member: string): void {
  if (!props.prompt.multiple && !allBut.value) choose([member]);
  else choose(chosen.value.includes(member) ? chosen.value.filter((other) => other !== member) : [...chosen.value, member]);
}
</script>

<template>
  <div ref="list" @keydown="moveAmong(list, $event)">
    <v-text-field
      v-if="long"
      ref="box"
      v-model="search"
      class="search"
      type="search"
      :placeholder="`Find among ${data?.members.length} ${fieldPlural(dataset, field)}`"
      :aria-label="`Find a ${fieldLabel(dataset, field).toLowerCase()}`"
    />
    <v-list role="listbox" :aria-label="fieldLabel(dataset, field)" :aria-multiselectable="prompt.multiple || allBut">
      <v-list-item
        role="option"
        class="every"
        :aria-selected="chosen.length === 0"
        :prepend-icon="chosen.length === 0 ? (prompt.multiple ? mdiCheckboxMarked : mdiRadioboxMarked) : off"
        :title="every"
        @click="choose([])"
      />
      <v-virtual-scroll :items="shown" :item-height="30" :height="Math.min(shown.length * 30, 300)" item-key="member">
        <template #default="{ item }">
          <v-list-item
            role="option"
            :aria-selected="chosen.includes(item.member)"
            :prepend-icon="chosen.includes(item.member) ? on : off"
            :title="item.about ? `${item.label} (${item.about})` : item.label"
            @click="toggle(item.member)"
          >
            <template #append>
              <span class="count" :title="data ? countWords(item.records, data.record, LOCALE) : ''">{{
                counts.format(item.records)
              }}</span>
            </template>
          </v-list-item>
        </template>
      </v-virtual-scroll>
    </v-list>
  </div>
  <p v-if="error" class="hint">
    The choices could not be fetched. <v-btn class="inline" variant="plain" @click="refetch()">Try again</v-btn>
  </p>
  <p v-else-if="!data" class="hint">Fetching the choices …</p>
  <p v-else-if="shown.length === 0" class="hint">
    {{ search ? `No member matches “${search}”.` : 'Nothing is left here under the other choices.' }}
  </p>
  <div v-if="data && shown.length" class="foot">
    <v-checkbox v-if="isOwn" label="All but these" :model-value="allBut" @update:model-value="turn" />
    <p class="hint">Counts are {{ data.record.many }} left.</p>
  </div>
</template>

<style scoped>
.v-list {
  padding: 4px 0 0;
}
.every {
  border-bottom: 1px solid var(--rule-2);
}
.count {
  color: var(--ink-2);
  font-size: 12.5px;
}
.hint {
  margin: 4px 10px;
  color: var(--ink-2);
  font-size: 12.5px;
}
.foot {
  display: flex;
  align-items: center;
  justify-content: space-between;
  border-top: 1px solid var(--rule-2);
  padding: 3px 0 0 6px;
}
</style>
