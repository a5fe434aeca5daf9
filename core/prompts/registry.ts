import type { Prompt, PromptOf } from '../model/index.ts';
import { branchesKind } from './branches.ts';
import type { PromptKind } from './kind.ts';
import { membersKind } from './members.ts';
import { periodKind } from './period.ts';
import { datesKind, rangeKind } from './spans.ts';
import { dimensionKind, measureKind } from './swaps.ts';
import { textKind } from './text.ts';
import { numberKind, switchKind } from './values.ts';

/** Every kind of prompt, in the order in which they are offered. */
export const PROMPT_KINDS: { [Kind in Prompt['kind']]: PromptKind<PromptOf<Kind>> } = {
  members: membersKind,
  branches: branchesKind,
  period: periodKind,
  dates: datesKind,
  range: rangeKind,
  text: textKind,
  measure: measureKind,
  dimension: dimensionKind,
  switch: switchKind,
  number: numberKind,
};

/** What a prompt is an instance of. */
export const promptKindOf = (prompt: Prompt): PromptKind<Prompt> => PROMPT_KINDS[prompt.kind] as unknown as PromptKind<Prompt>;
