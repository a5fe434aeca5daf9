import type { Exhibit } from '@bold-compass/core/model';
import { defineAsyncComponent, type Component } from 'vue';
import CrosstabExhibit from '../crosstab/CrosstabExhibit.vue';
import DividerExhibit from './DividerExhibit.vue';
import ImageExhibit from './ImageExhibit.vue';
import KpiStrip from './KpiStrip.vue';

// Most reports have none of these: they are fetched where one does.
const ChartExhibit = defineAsyncComponent(() => import('../chart/ChartExhibit.vue'));
const VarianceExhibit = defineAsyncComponent(() => import('../variance/VarianceExhibit.vue'));
const ListExhibit = defineAsyncComponent(() => import('../list/ListExhibit.vue'));
const TextExhibit = defineAsyncComponent(() => import('./TextExhibit.vue'));

/** What shows each kind of exhibit. */
export const EXHIBIT_VIEWS: Record<Exhibit['kind'], Component> = {
  crosstab: CrosstabExhibit,
  chart: ChartExhibit,
  list: ListExhibit,
  variance: VarianceExhibit,
  kpis: KpiStrip,
  text: TextExhibit,
  image: ImageExhibit,
  divider: DividerExhibit,
};
