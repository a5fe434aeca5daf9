// `npm run bench`: the benchmark against reference engines, with all set-up. Sizes can be named: npm run bench -- 200000
import { join } from 'node:path';
import { ensureNodePackages } from './lib/packages.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { reportAndExit, root, run } from './lib/shell.mjs';

let postgres;
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => (postgres?.stop(), process.exit(130)));
try {
  await ensureNodePackages();
  postgres = await startPostgres('bench');
  await run(process.execPath, ['--max-old-space-size=12288', '--import', 'tsx', join(root, 'bench/main.ts'), ...process.argv.slice(2)], {
    env: { ...process.env, DATABASE_URL: postgres.url },
  });
  await run(process.execPath, ['--max-old-space-size=8192', '--import', 'tsx', join(root, 'bench/formulas.ts')], {
    env: { ...process.env, DATABASE_URL: postgres.url },
  });
  await run(process.execPath, ['--import', 'tsx', join(root, 'bench/readers.ts')], { env: { ...process.env, DATABASE_URL: postgres.url } });
  postgres.stop();
} catch (error) {
  postgres?.stop();
  reportAndExit(error);
}
