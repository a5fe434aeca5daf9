// `npm run soak`: readers, savers and importers at work while the server and the database are killed again and again.
// Nothing that was acknowledged may be lost, nothing half-imported may show, memory stays flat.
//   npm run soak -- --minutes 60 --readers 50
import { soak } from './lib/soak.mjs';
import { ensureNodePackages } from './lib/packages.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { reportAndExit, say } from './lib/shell.mjs';

const option = (name, otherwise) => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};

let postgres;
try {
  await ensureNodePackages();
  const { buildAll } = await import('./lib/build.mjs');
  postgres = await startPostgres('soak');
  await buildAll();
  const result = await soak(postgres, { minutes: option('minutes', 60), readers: option('readers', 50), say });
  postgres.stop();
  process.exit(result.faults.length === 0 ? 0 : 1);
} catch (error) {
  postgres?.stop();
  reportAndExit(error);
}
