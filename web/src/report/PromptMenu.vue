<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { countWords } from '@bold-compass/core/format';
import { fieldLabel, fieldPlural, type Prompt } from '@bold-compass/core/model';
import { mdiCheckboxBlankOutline, mdiCheckboxMarked, mdiFilterOutline, mdiRadioboxBlank, mdiRadioboxMarked } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, nextTick, ref, watch } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from './context.ts';
import { LOCALE } from './state-words.ts';
import { scopePhrase } from './scope-words.ts';

/** One underlined phrase of the scope line, with its choices. */
const props = defineProps<{ prompt: Prompt; field: string; compact?: boolean }>();
const { report, scope, where, draft, version, view, label, setScope } = useReport();

const open = ref(false);
const search = ref('');
const list = ref<HTMLElement | null>(null);

const dataset = computed(() => view.value.dataset);
const chosen = computed(() => scope.value[props.field] ?? []);
const phrase = computed(() => scopePhrase(dataset.value, props.field, chosen.value, knownLabel));

/** The fields after this one in the same prompt: what they hold is dropped once it can no longer be there. */
const finer = computed(() => props.prompt.fields.slice(props.prompt.fields.indexOf(props.field) + 1));
/** The scope that decides what is offered: what is chosen here, or below, changes nothing in it. */
const around = computed(() =>
  Object.fromEntries(Object.entries(scope.value).filter(([field]) => field !== props.field && !finer.value.includes(field))),
);

const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['members', report.value.id, version.value, props.field, around.value, where.value]),
  queryFn: ({ signal }) =>
    ask(
      membersResponseSchema,
      'POST',
      `/reports/${report.value.id}/members`,
      { field: props.field, scope: around.value, where: where.value, draft: draft.value },
      signal,
    ),
  enabled: open,
  placeholderData: (previous) => previous,
});

const labels = computed(() => new Map(data.value?.members.map((one) => [one.member, one.label])));
const knownLabel = (field: string, member: string | null): string =>
  (member !== null ? labels.value.get(member) : undefined) ?? label.value(field, member);

const fold = (text: string): string =>
  text
    .normalize('NFD')
    .replaceAll(/\p{Diacritic}/gu, '')
    .toLowerCase();
const shown = computed(() => {
  const wanted = fold(search.value.trim());
  return (data.value?.members ?? []).filter((one) => !wanted || fold(one.label).includes(wanted));
});
const long = computed(() => (data.value?.members.length ?? 0) > 9);
const on = computed(() => (props.prompt.multiple ? mdiCheckboxMarked : mdiRadioboxMarked));
const off = computed(() => (props.prompt.multiple ? mdiCheckboxBlankOutline : mdiRadioboxBlank));
const counts = new Intl.NumberFormat(LOCALE);
const every = computed(() => `Every ${fieldLabel(dataset.value, props.field).toLowerCase()}`);

function choose(members: string[]): void {
  const next = { ...scope.value, [props.field]: members };
  for (const field of finer.value) delete next[field];
  setScope(next);
  if (!props.prompt.multiple) open.value = false;
}

function toggle(member: string): void {
  if (!props.prompt.multiple) choose([member]);
  else choose(chosen.value.includes(member) ? chosen.value.filter((other) => other !== member) : [...chosen.value, member]);
}

watch(open, async (isOpen) => {
  if (!isOpen) return;
  search.value = '';
  await nextTick();
  requestAnimationFrame(() => list.value?.querySelector<HTMLElement>('input, [role=option]')?.focus());
});

/** Arrow keys move among the search field and the choices. */
function move(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!step) return;
  event.preventDefault();
  const stops = [...(list.value?.querySelectorAll<HTMLElement>('input, [role=option]') ?? [])];
  const at = stops.indexOf(document.activeElement as HTMLElement);
  stops[Math.max(0, Math.min(stops.length - 1, at + step))]?.focus();
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom start" :offset="6">
    <template #activator="{ props: activator }">
      <v-btn
        v-if="compact"
        :icon="mdiFilterOutline"
        variant="text"
        size="x-small"
        class="funnel"
        v-bind="activator"
        :aria-owns="undefined"
        :class="{ set: chosen.length > 0 }"
        :aria-label="`Only some of ${fieldLabel(dataset, field)}`"
        :title="`Only some of ${fieldLabel(dataset, field)}`"
      />
      <button
        v-else
        class="phrase"
        type="button"
        v-bind="activator"
        :aria-owns="undefined"
        :aria-label="`${fieldLabel(dataset, field)}: ${phrase}. Change`"
      >
        {{ phrase }}
      </button>
    </template>
    <v-card class="prompt">
      <div ref="list" @keydown="move">
        <v-text-field
          v-if="long"
          v-model="search"
          class="search"
          type="search"
          :placeholder="`Find among ${data?.members.length} ${fieldPlural(dataset, field)}`"
          :aria-label="`Find a ${fieldLabel(dataset, field).toLowerCase()}`"
        />
        <v-list role="listbox" :aria-label="fieldLabel(dataset, field)" :aria-multiselectable="prompt.multiple">
          <v-list-item
            role="option"
            class="every"
            :aria-selected="chosen.length === 0"
            :prepend-icon="chosen.length === 0 ? on : off"
            :title="every"
            @click="choose([])"
          />
          <v-virtual-scroll :items="shown" :item-height="30" :height="Math.min(shown.length * 30, 300)" item-key="member">
            <template #default="{ item }">
              <v-list-item
                role="option"
                :aria-selected="chosen.includes(item.member)"
                :prepend-icon="chosen.includes(item.member) ? on : off"
                :title="item.label"
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
      <p v-if="data && shown.length" class="hint foot">
        {{ prompt.multiple ? 'Choose one or several. ' : '' }}Counts are {{ data.record.many }} left.
      </p>
    </v-card>
  </v-menu>
</template>

<style scoped>
.funnel.set {
  color: var(--sea);
  background: var(--sea-tint);
}
.phrase {
  font-weight: 600;
  color: var(--ink);
  border-bottom: 1.5px dotted var(--brass-line);
  display: inline;
  overflow-wrap: anywhere;
}
.phrase:hover {
  color: var(--sea);
}
.prompt {
  width: min(320px, 92vw);
  padding: 6px;
}
.prompt .v-list {
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
  border-top: 1px solid var(--rule-2);
  padding-top: 5px;
}
</style>
