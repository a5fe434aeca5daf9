export type { DataDays, NewPrompt, PromptKind, PromptWording, Swap } from './kind.ts';
export { PROMPT_KINDS, promptKindOf } from './registry.ts';
export { allBut, excludedMembers, exclusion } from './members.ts';
export { branchesChoice, branchesOf } from './branches.ts';
export { daysOfChoice, periodChoiceText, readPeriodChoice } from './period.ts';
export { everyPhrase, namedWords, scopePhrase, shownFields } from './member-words.ts';
export { promptFaults } from './faults.ts';
export * from './state.ts';
export { carriedAlong, filledAddress } from './carried.ts';
