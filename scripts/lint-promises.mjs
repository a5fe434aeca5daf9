// A promise that nobody waits for loses its failure: the rules that need types, by a linter that reads them natively. It passes
// over components, so their scripts are laid beside the sources as modules of their own, line for line.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { root } from './lib/shell.mjs';

const sources = join(root, 'web/src');
const scripts = join(root, 'web/.scripts');
const SCRIPT = /^<script[^>]*>(.*?)^<\/script>/gms;

/** Looks at folders, and answers at how many files. */
function lint(...folders) {
  const linter = join(root, 'node_modules/oxlint/bin/oxlint');
  const { status, stdout, error } = spawnSync(process.execPath, [linter, '--type-aware', ...folders], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    encoding: 'utf8',
    // Where `npm run` does not stand before it, it would not be found.
    env: { ...process.env, OXLINT_TSGOLINT_PATH: join(root, 'node_modules/.bin/tsgolint') },
  });
  if (error) throw error;
  process.stdout.write(stdout);
  if (status !== 0) process.exitCode = 1;
  return Number(/on (\d+) files/.exec(stdout)?.[1] ?? 0);
}

rmSync(scripts, { recursive: true, force: true });
try {
  const components = readdirSync(sources, { recursive: true }).filter((name) => name.endsWith('.vue'));
  for (const file of components) {
    const text = readFileSync(join(sources, file), 'utf8');
    // Only what stands between the tags, on the lines where it stands.
    let [script, end] = ['', 0];
    for (const found of text.matchAll(SCRIPT)) {
      const begins = found.index + found[0].indexOf('>') + 1;
      script += text.slice(end, begins).replace(/[^\n]/g, '') + found[1];
      end = begins + found[1].length;
    }
    const to = join(scripts, `${file}.ts`);
    mkdirSync(dirname(to), { recursive: true });
    writeFileSync(to, `${script}\nexport {};\n`);
  }
  // What they import is found as if they stood among the sources.
  const compilerOptions = { rootDirs: ['../src', '.'] };
  writeFileSync(
    join(scripts, 'tsconfig.json'),
    JSON.stringify({ extends: '../tsconfig.json', compilerOptions, include: ['.', '../src/**/*.d.ts'] }),
  );
  lint('core', 'server', 'demo', 'e2e', 'bench', 'web/src');
  if (lint('web/.scripts') !== components.length) throw new Error('Not every component was looked at.');
} finally {
  rmSync(scripts, { recursive: true, force: true });
}
