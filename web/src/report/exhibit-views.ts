import type { Exhibit } from '@bold-compass/core/model';
import type { Component } from 'vue';
import CrosstabExhibit from '../crosstab/CrosstabExhibit.vue';
import ListExhibit from '../list/ListExhibit.vue';
import DividerExhibit from './DividerExhibit.vue';
import ImageExhibit from './ImageExhibit.vue';
import KpiStrip from './KpiStrip.vue';
import TextExhibit from './TextExhibit.vue';

/** What shows each kind of exhibit. */
export const EXHIBIT_VIEWS: Record<Exhibit['kind'], Component> = {
  crosstab: CrosstabExhibit,
  list: ListExhibit,
  kpis: KpiStrip,
  text: TextExhibit,
  image: ImageExhibit,
  divider: DividerExhibit,
};
