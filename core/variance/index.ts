export { contributionRows, signedDifference, varianceColumns, type ContributionRow } from './contribution-rows.ts';
export { contributionsOf, type Contribution, type Contributions } from './contributions.ts';
export { EFFECTS, memberEffects, sumOfEffects, type Effects, type ComparedMember } from './effects.ts';
export { earlierMeasure, explainedFields, membersCompared, varianceTable } from './table.ts';
export { changeSentence, differenceSentence, effectsSentence, moversSentence, type FigureFormatting } from './words.ts';
