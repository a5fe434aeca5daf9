import { newKpi } from '@bold-compass/core/exhibits';
import {
  measureNamed,
  type CellExhibit,
  type Chart,
  type Crosstab,
  type Dataset,
  type Divider,
  type Exhibit,
  type Image,
  type KpiStrip,
  type List,
  type Text,
  type Variance,
} from '@bold-compass/core/model';
import { mdiCardTextOutline, mdiChartLine, mdiDelta, mdiFormatListText, mdiGauge, mdiImageOutline, mdiMinus, mdiTable } from '@mdi/js';
import type { Component } from 'vue';
import ChartEdges from './ChartEdges.vue';
import ComposeEdges from './ComposeEdges.vue';
import ListEdges from './ListEdges.vue';
import { hasRoomForColumns, hasRoomForGroups, placeColumns, placeGroups } from './list-edges.ts';
import { edgeWords } from './edge-words.ts';
import { freeMeasures, groupingFields, measureChoices, placeInOrder, placeMeasure, recordFields, type FieldChoice } from './edges.ts';
import ChartSettings from './settings/ChartSettings.vue';
import CrosstabSettings from './settings/CrosstabSettings.vue';
import KpiSettings from './settings/KpiSettings.vue';
import ListSettings from './settings/ListSettings.vue';
import VarianceSettings from './settings/VarianceSettings.vue';
import WordsSettings from './settings/WordsSettings.vue';

/** A field or measure in the drawer. */
export interface Entry extends FieldChoice {
  kind: 'field' | 'measure';
}

/** Something that can be done with a field on an exhibit. */
interface EntryAction<Own> {
  words: string;
  changed: Own;
}

/** A kind of exhibit while it is composed. */
interface ComposedKind<Own extends Exhibit> {
  icon: string;
  /** Its settings in the margin; none where it has only a place and a size. */
  settings: Component | null;
  /** What stands around it; null for a plain frame. */
  edges: Component | null;
  /** Fields and measures that the drawer offers for it. */
  entries(exhibit: Own, dataset: Dataset): Entry[];
  /** What can be done with one of them. */
  actions(exhibit: Own, entry: Entry, dataset: Dataset): EntryAction<Own>[];
}

const asFields = (choices: FieldChoice[]): Entry[] => choices.map((choice) => ({ ...choice, kind: 'field' }));
const asMeasures = (choices: FieldChoice[]): Entry[] => choices.map((choice) => ({ ...choice, kind: 'measure' }));

/** All measures and fields of a dataset, measures first: they are used most. */
export const allEntries = (dataset: Dataset): Entry[] => [...asMeasures(measureChoices(dataset)), ...asFields(groupingFields(dataset))];

/** What answers in cells takes fields on both its edges, and measures between them. */
const inCells = <Own extends CellExhibit>(icon: string, settings: Component, edges: Component): ComposedKind<Own> => ({
  ...{ icon, settings, edges },
  entries: (_exhibit, dataset) => allEntries(dataset),
  actions(exhibit, { kind, name, fields }, dataset) {
    const words = edgeWords(exhibit);
    if (kind === 'measure') {
      const isFree = freeMeasures(dataset, exhibit).some((free) => free.name === name);
      return isFree ? [{ words: words.addTo, changed: placeMeasure(exhibit, measureNamed(dataset, name)) }] : [];
    }
    return (['side', 'top'] as const).map((edge) => ({
      words: `Add ${words[edge].toLowerCase()}`,
      changed: placeInOrder(dataset, exhibit, edge, fields),
    }));
  },
});
const crosstab = inCells<Crosstab>(mdiTable, CrosstabSettings, ComposeEdges);
const chart = inCells<Chart>(mdiChartLine, ChartSettings, ChartEdges);

const list: ComposedKind<List> = {
  icon: mdiFormatListText,
  settings: ListSettings,
  edges: ListEdges,
  entries: ({ fact }, dataset) => [...asMeasures(measureChoices(dataset)), ...asFields(recordFields(dataset, fact))],
  actions(exhibit, { kind, name, fields }) {
    const columns = kind === 'measure' ? [{ measure: name }] : fields.map((field) => ({ field }));
    const add = hasRoomForColumns(exhibit, columns.length) ? [{ words: 'Add as column', changed: placeColumns(exhibit, columns) }] : [];
    const free = fields.filter((field) => !exhibit.groups.some((group) => group.field === field));
    return kind === 'field' && free.length > 0 && hasRoomForGroups(exhibit, free)
      ? [...add, { words: 'Group by', changed: placeGroups(exhibit, free) }]
      : add;
  },
};

const MOST_KPIS = 6;
const kpis: ComposedKind<KpiStrip> = {
  icon: mdiGauge,
  settings: KpiSettings,
  edges: null,
  entries: (_exhibit, dataset) => allEntries(dataset),
  actions(exhibit, { kind, name }, dataset) {
    if (kind !== 'measure' || exhibit.kpis.length >= MOST_KPIS) return [];
    const ids = exhibit.kpis.map(({ id }) => id);
    const kpi = newKpi(measureNamed(dataset, name), ids);
    return [{ words: 'Add to KPI strip', changed: { ...exhibit, kpis: [...exhibit.kpis, kpi] } }];
  },
};

const MOST_VARIANCE_FIELDS = 12;
const variance: ComposedKind<Variance> = {
  icon: mdiDelta,
  settings: VarianceSettings,
  edges: null,
  entries: (_exhibit, dataset) => allEntries(dataset),
  actions(exhibit, { kind, name, fields }) {
    if (kind === 'measure') return [{ words: 'Set as measure', changed: { ...exhibit, measure: name, effects: undefined } }];
    const free = fields.filter((field) => !exhibit.fields.includes(field)).slice(0, MOST_VARIANCE_FIELDS - exhibit.fields.length);
    return free.length > 0 ? [{ words: 'Add field', changed: { ...exhibit, fields: [...exhibit.fields, ...free] } }] : [];
  },
};

/** What takes no fields. */
const plain = <Own extends Exhibit>(icon: string, settings: Component | null): ComposedKind<Own> => ({
  ...{ icon, settings, edges: null },
  entries: (_exhibit, dataset) => allEntries(dataset),
  actions: () => [],
});

const KINDS: { [Kind in Exhibit['kind']]: ComposedKind<Extract<Exhibit, { kind: Kind }>> } = {
  crosstab,
  chart,
  list,
  kpis,
  variance,
  text: plain<Text>(mdiCardTextOutline, WordsSettings),
  image: plain<Image>(mdiImageOutline, WordsSettings),
  divider: plain<Divider>(mdiMinus, null),
};

/** How exhibits of a kind are composed. */
export const composedKind = (kind: Exhibit['kind']): ComposedKind<Exhibit> => KINDS[kind] as unknown as ComposedKind<Exhibit>;

/** Whether fields can be put on an exhibit. */
export const takesFields = ({ kind }: Exhibit): boolean => kind in { crosstab, chart, list };
