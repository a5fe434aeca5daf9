export { contributionsOf, type Contribution, type Contributions } from './contributions.ts';
export { effectsOf, type Effects, type Sold } from './effects.ts';
export { membersCompared, varianceTable } from './table.ts';
export { changeSentence, differenceSentence, effectsSentence, moversSentence, type Told } from './words.ts';
