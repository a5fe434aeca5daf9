import { describe, expect, it } from 'vitest';
import { AGGREGATES } from '../model/index.ts';
import { CELL_FUNCTIONS, FUNCTION_HELP, parseFormula, SCALAR_FUNCTIONS } from './index.ts';

describe('help', () => {
  it('knows every function, each once, with an example that uses it', () => {
    const helped = FUNCTION_HELP.map(({ name }) => name);
    const functions = [...Object.keys(CELL_FUNCTIONS), ...SCALAR_FUNCTIONS, ...Object.keys(AGGREGATES)];
    expect(functions.filter((name) => !helped.includes(name))).toEqual([]);
    for (const name of functions) {
      const own = FUNCTION_HELP.filter((one) => one.name === name);
      expect(own.length, name).toBe(1);
      expect(own[0].example, name).toContain(`${name}(`);
      expect(own[0].about, name).toMatch(/\.$/);
    }
  });
  it('has examples that can be read', () => {
    for (const { name, example } of FUNCTION_HELP) expect(() => parseFormula(example), name).not.toThrow();
  });
});
