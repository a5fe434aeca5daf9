import type { Prompt } from '@bold-compass/core/model';
import {
  mdiCalendarRange,
  mdiCalendarMonthOutline,
  mdiFileTreeOutline,
  mdiFormatListChecks,
  mdiFormatText,
  mdiNumeric,
  mdiRayStartEnd,
  mdiSwapHorizontal,
  mdiTableSync,
  mdiToggleSwitchOutline,
} from '@mdi/js';
import { defineAsyncComponent, type Component } from 'vue';
import MembersControl from './MembersControl.vue';

/** A kind of prompt in the interface; what it asks stands in its record in core. */
interface PromptView {
  icon: string;
  /** What the reader answers with. */
  control: Component;
}

const OneOf = defineAsyncComponent(() => import('./OneOfControl.vue'));
const Span = defineAsyncComponent(() => import('./SpanControl.vue'));

export const PROMPT_VIEWS: Record<Prompt['kind'], PromptView> = {
  members: { icon: mdiFormatListChecks, control: MembersControl },
  branches: { icon: mdiFileTreeOutline, control: defineAsyncComponent(() => import('./BranchesControl.vue')) },
  period: { icon: mdiCalendarMonthOutline, control: defineAsyncComponent(() => import('./PeriodControl.vue')) },
  dates: { icon: mdiCalendarRange, control: Span },
  range: { icon: mdiRayStartEnd, control: Span },
  text: { icon: mdiFormatText, control: defineAsyncComponent(() => import('./TextControl.vue')) },
  measure: { icon: mdiSwapHorizontal, control: OneOf },
  dimension: { icon: mdiTableSync, control: OneOf },
  switch: { icon: mdiToggleSwitchOutline, control: OneOf },
  number: { icon: mdiNumeric, control: defineAsyncComponent(() => import('./NumberControl.vue')) },
};
