import type { Prompt } from '@bold-compass/core/model';
import type { Component } from 'vue';
import DimensionPromptSettings from './DimensionPromptSettings.vue';
import MeasurePromptSettings from './MeasurePromptSettings.vue';
import MembersPromptSettings from './MembersPromptSettings.vue';
import NumberPromptSettings from './NumberPromptSettings.vue';
import SwitchPromptSettings from './SwitchPromptSettings.vue';

/** The settings of each kind beside those that all have; none where there are no others. */
export const PROMPT_SETTINGS: Record<Prompt['kind'], Component | null> = {
  members: MembersPromptSettings,
  branches: null,
  period: null,
  dates: null,
  range: null,
  text: null,
  measure: MeasurePromptSettings,
  dimension: DimensionPromptSettings,
  switch: SwitchPromptSettings,
  number: NumberPromptSettings,
};
