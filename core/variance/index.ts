export { contributionsOf, type Contribution, type Contributions } from './contributions.ts';
export { effectsOf, type Effects, type Sold } from './effects.ts';
export { varianceTable } from './table.ts';
export { changeSentence, effectsSentence, moversSentence } from './words.ts';
