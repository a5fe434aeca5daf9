export type { AnswerData, MemberPath } from './data.ts';
export { conditionsInWords, labelsFor, type AnswerContext } from './context.ts';
export { noTableCache, type PreparedTable, type TableCache } from './table-cache.ts';
export { AnswerError } from './errors.ts';
export { askedIn, type Asked } from './scope.ts';
export { EXHIBIT_QUESTIONS, type ExhibitQuestion, type IsVisiblePath } from './questions.ts';
export { promptMembers } from './prompt-members.ts';
export { textValues } from './text-values.ts';
export { ColumnsData } from './columns-data.ts';
