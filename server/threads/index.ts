import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';

/**
 * Starts a pool of threads for a worker module. Built, it lies beside the bundle under `built`; from source it is
 * `source`, both as seen from `from`, the caller's `import.meta.url`.
 */
export function startThreads(from: string, built: string, source: string, most: number): Piscina {
  const bundle = fileURLToPath(new URL(built, from));
  const options = existsSync(bundle)
    ? { filename: bundle }
    : { filename: fileURLToPath(new URL(source, from)), execArgv: ['--import', 'tsx'] };
  return new Piscina({ ...options, minThreads: 0, maxThreads: most, idleTimeout: 3_600_000 });
}
