import { SCALARS } from '../engine/index.ts';

const OPERATORS = ['negate', 'and', 'or', 'not', 'missing', 'like'];

/** Functions of values that are called by name, in formulas of records and of measures: operators are among the scalars too. */
export const SCALAR_FUNCTIONS = Object.keys(SCALARS).filter((name) => /^[a-z_]+$/.test(name) && !OPERATORS.includes(name));
