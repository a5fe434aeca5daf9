// `npm run bench:exports`: how long files of exports take to be written, and what memory that takes.
import { join } from 'node:path';
import { buildServer } from './lib/build.mjs';
import { ensureNodePackages } from './lib/packages.mjs';
import { reportAndExit, root, run } from './lib/shell.mjs';

try {
  await ensureNodePackages();
  const built = await buildServer();
  await run(process.execPath, ['--import', 'tsx', join(root, 'bench/exports.ts')], {
    env: { ...process.env, BOLD_COMPASS_THREADS: built },
  });
} catch (error) {
  reportAndExit(error);
}
