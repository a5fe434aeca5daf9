// `npm run check -- FILE…`: whether files of reports are sound, for an organisation's own checks. Exit code 1 where one is not.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureNodePackages } from './lib/packages.mjs';
import { capture, reportAndExit, root } from './lib/shell.mjs';

try {
  await ensureNodePackages();
  const { build } = await import('esbuild');
  const folder = mkdtempSync(join(tmpdir(), 'bold-compass-check-'));
  const outfile = join(folder, 'check.mjs');
  await build({
    entryPoints: [join(root, 'scripts/check-reports.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'warning',
  });
  const { status } = capture(process.execPath, [outfile, ...process.argv.slice(2)], { stdio: 'inherit' });
  rmSync(folder, { recursive: true });
  process.exit(status ?? 1);
} catch (error) {
  reportAndExit(error);
}
