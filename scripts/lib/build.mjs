import { createHash } from 'node:crypto';
import { cpSync, existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, run, say } from './shell.mjs';

/** A fingerprint of the sources, by names, sizes and times, so that an unchanged tree is not built again. */
function fingerprint(folders) {
  const hash = createHash('sha256');
  const visit = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (entry.name === 'node_modules' || entry.name === 'dist') continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) visit(path);
      else {
        const { size, mtimeMs } = statSync(path);
        hash.update(`${path}|${size}|${mtimeMs}\n`);
      }
    }
  };
  folders.forEach((folder) => visit(join(root, folder)));
  hash.update(readFileSync(join(root, 'package-lock.json')));
  return hash.digest('hex');
}

async function buildOnce(name, folders, output, build) {
  const stamp = join(root, output, '.built');
  const current = fingerprint(folders);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === current) return;
  say(`Building the ${name} …`);
  await build();
  writeFileSync(stamp, current);
}

/**
 * What has to lie in the bundle: entries of chart packages that Node.js would take bring a second library of charts, and data files
 * are none of its modules.
 */
const INSIDE = /^(@bold-compass\/|chart\.js|chartjs-|world-atlas|i18n-iso-countries|diacritics)/;

/** Bundles the server, its threads and the demo loader; other packages stay outside the bundle. */
async function bundleServer() {
  const { build } = await import('esbuild');
  const output = join(root, 'server', 'dist');
  rmSync(output, { recursive: true, force: true });
  await build({
    entryPoints: {
      main: join(root, 'server/main.ts'),
      'answer-worker': join(root, 'server/data/answer-worker.ts'),
      'engine-worker': join(root, 'server/data/engine-worker.ts'),
      'scan-worker': join(root, 'server/data/scan-worker.ts'),
      'load-worker': join(root, 'server/data/load-worker.ts'),
      'formula-worker': join(root, 'server/datasets/formula-worker.ts'),
      'import-worker': join(root, 'server/imports/worker.ts'),
      'export-worker': join(root, 'server/exports/export-worker.ts'),
      'load-demo': join(root, 'demo/main.ts'),
    },
    outdir: output,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    logLevel: 'warning',
    mainFields: ['module', 'main'],
    plugins: [
      {
        name: 'packages-outside',
        setup({ onResolve }) {
          onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind === 'entry-point' || INSIDE.test(path) ? undefined : { path, external: true },
          );
        },
      },
    ],
  });
  cpSync(join(root, 'server/database/migrations'), join(output, 'migrations'), { recursive: true });
  cpSync(join(root, 'server/exports/fonts'), join(output, 'fonts'), { recursive: true });
}

/** Builds the server where it changed. Returns the folder of what was built, thread modules included. */
export async function buildServer() {
  await buildOnce('server', ['core', 'charts', 'server', 'demo'], 'server/dist', bundleServer);
  return join(root, 'server', 'dist');
}

export async function buildAll() {
  await buildServer();
  await buildOnce('interface', ['core', 'charts', 'web', 'docs'], 'web/dist', () =>
    run('npx', ['vite', 'build', '--logLevel', 'warn'], { cwd: join(root, 'web') }),
  );
}
