export { contributionsOf, type Contribution, type Contributions } from './contributions.ts';
export { EFFECTS, memberEffects, sumOfEffects, type Effects, type Sold } from './effects.ts';
export { earlierMeasure, fieldsTold, membersCompared, varianceTable } from './table.ts';
export { changeSentence, differenceSentence, effectsSentence, moversSentence, type Told } from './words.ts';
