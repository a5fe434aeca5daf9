import { spawn, spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** The clone's root folder. */
export const root = fileURLToPath(new URL('../..', import.meta.url));

/** A failure whose message says what to do; shown without a stack. */
export class SetupError extends Error {}

export const say = (text) => process.stdout.write(`${text}\n`);

/** Runs a command to its end and returns its result; output is kept. */
export function capture(command, args, options = {}) {
  return spawnSync(command, args, { encoding: 'utf8', ...options });
}

/** Runs a command with its output shown. Rejects when it fails. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('exit', (code, signal) =>
      code === 0 ? resolve() : reject(new SetupError(`${command} ${args.join(' ')} ended with ${signal ?? code}.`)),
    );
  });
}

export const hasCommand = (name) => capture('sh', ['-c', `command -v ${name}`]).status === 0;

/** Ends the process with a message instead of a stack for failures that say what to do. */
export function reportAndExit(error) {
  process.stderr.write(`\n${error instanceof SetupError ? error.message : (error?.stack ?? error)}\n`);
  process.exit(1);
}
