<script setup lang="ts">
import { withAggregations } from '@bold-compass/core/crosstab';
import type { Path } from '@bold-compass/core/api';
import { fieldLabel, findField, isCellExhibit, isDataExhibit, type Axis, type Exhibit } from '@bold-compass/core/model';
import { followedPlace, followersOf } from '@bold-compass/core/prompts';
import { listWords } from '@bold-compass/core/format';
import { chosenSections } from '@bold-compass/core/sections';
import { missingNames } from '@bold-compass/core/exhibits';
import { computed, defineAsyncComponent } from 'vue';
import { provideReport, useReport } from './context.ts';
import { EXHIBIT_VIEWS } from './exhibit-views.ts';
import ExhibitState from './ExhibitState.vue';
import { useFollowing } from './following.ts';
import { readCrosstabState } from './url-state.ts';

const MissingNames = defineAsyncComponent(() => import('./MissingNames.vue'));

/** Any exhibit, with the dataset that it answers from. */
const props = defineProps<{ exhibit: Exhibit; number: number }>();
const outer = useReport();

/** The dataset that it answers from; undefined while it comes, and where it is gone. */
const answers = computed(() => {
  const { exhibit } = props;
  const { dataset, datasets } = outer.view.value;
  return isDataExhibit(exhibit) && exhibit.dataset ? datasets[exhibit.dataset] : dataset;
});
const isGone = computed(() => isDataExhibit(props.exhibit) && outer.view.value.gone.includes(props.exhibit.dataset ?? ''));
const missing = computed(() => (answers.value ? missingNames(props.exhibit, answers.value) : { fields: [], measures: [] }));
const isWhole = computed(() => answers.value !== undefined && missing.value.fields.length + missing.value.measures.length === 0);
const own = computed(() => {
  const dataset = answers.value ?? outer.view.value.dataset;
  return isWhole.value ? withAggregations(dataset, props.exhibit) : { dataset, exhibit: props.exhibit };
});
const asked = useFollowing(() => props.exhibit);
provideReport({ ...outer, asked, view: computed(() => ({ ...outer.view.value, dataset: own.value.dataset })) });

/** What is chosen in it, where others follow that. */
const followed = computed(() => {
  const { exhibit } = props;
  if (!isCellExhibit(exhibit) || followersOf(outer.report.value.exhibits, exhibit.id).length === 0) return null;
  const { cell } = readCrosstabState(exhibit, outer.address.value);
  const place = cell && followedPlace(exhibit, cell);
  if (!cell || !place) return null;
  const word = ({ fields }: Axis, path: Path): string =>
    path.length > 0 ? outer.label.value(fields[path.length - 1], path.at(-1) ?? null) : '';
  return [word(exhibit.side, cell.side), word(exhibit.top, cell.top)].filter((text) => text !== '').join(', ');
});
/** Levels that the sections around it go by and that its dataset does not know: it shows all of them together. */
const unknownSections = computed(() => {
  const { dataset } = outer.view.value;
  const { value: own } = answers;
  if (!own || !isDataExhibit(props.exhibit)) return [];
  const fields = chosenSections(outer.choices.value, props.exhibit.id).map(({ field }) => field);
  return fields.filter((field) => !findField(own, field)).map((field) => fieldLabel(dataset, field).toLowerCase());
});
const clear = (): void => outer.navigate({ [`${props.exhibit.id}.cell`]: undefined }, 'step');
</script>

<template>
  <p v-if="followed" class="followed" role="status">
    Chosen: <strong>{{ followed }}</strong> — the exhibits that follow show only this.
    <v-btn variant="plain" class="inline" @click="clear">Clear</v-btn>
  </p>
  <p v-if="unknownSections.length > 0" class="followed">Not by {{ listWords(unknownSections) }}: its records know none.</p>
  <ExhibitState
    v-if="isGone"
    kind="failed"
    title="The dataset of this exhibit is no longer there"
    :message="outer.composing.value ? 'Remove the exhibit, or go back to an edition before it.' : 'An analyst can replace this exhibit.'"
  />
  <ExhibitState v-else-if="!answers" kind="loading" title="Opening the dataset" />
  <MissingNames v-else-if="!isWhole" :exhibit="exhibit" :dataset="answers" v-bind="missing" />
  <component :is="EXHIBIT_VIEWS[own.exhibit.kind]" v-else :exhibit="own.exhibit" :number="number" />
</template>

<style scoped>
.followed {
  margin: 16px 0 -14px;
  text-align: right;
  font-size: 12.5px;
  color: var(--ink-2);
}
.followed strong {
  color: var(--ink);
}
</style>
