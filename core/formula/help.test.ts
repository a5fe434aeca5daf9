import { describe, expect, it } from 'vitest';
import { AGGREGATE_NAMES } from '../model/index.ts';
import { FUNCTION_GROUPS } from './function-group.ts';
import { CELL_FUNCTIONS, FUNCTION_HELP, SCALAR_FUNCTIONS } from './index.ts';

/** Every function in a table a group, as docs/functions.md has them. */
function reference(): string {
  const code = (text: string): string => `\`${text.replaceAll('|', '\\|')}\``;
  const tables = FUNCTION_GROUPS.map((group) =>
    [
      `## ${group}\n`,
      '| how it is called | what it gives | example |\n|---|---|---|',
      ...FUNCTION_HELP.filter((one) => one.group === group).map(
        ({ signature, about, example }) => `| ${code(signature)} | ${about} | ${code(example)} |`,
      ),
    ].join('\n'),
  );
  return `# Functions of the formula language\n\nWritten from their records by \`npx vitest run core/formula/help.test.ts -u\`.\n\n${tables.join('\n\n')}\n`;
}

describe('help', () => {
  it('knows every function, each once, with an example that uses it', () => {
    const helped = FUNCTION_HELP.map(({ name }) => name);
    const functions = [...Object.keys(CELL_FUNCTIONS), ...Object.keys(SCALAR_FUNCTIONS), ...AGGREGATE_NAMES];
    expect(functions.filter((name) => !helped.includes(name))).toEqual([]);
    for (const name of functions) {
      const own = FUNCTION_HELP.filter((one) => one.name === name);
      expect(own.length, name).toBe(1);
      expect(own[0].example, name).toContain(`${name}(`);
      expect(own[0].about, name).toMatch(/\.$/);
    }
  });

  it('is what docs/functions.md says', async () => {
    await expect(reference()).toMatchFileSnapshot('../../docs/functions.md');
  });
});
