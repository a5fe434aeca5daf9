import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { capture, hasCommand, root, run, say, SetupError } from './shell.mjs';

/** Installs the npm packages of the lock file when they are not there yet or the lock file has changed. */
export async function ensureNodePackages() {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) throw new SetupError(`Node.js 20 or newer is needed; this is ${process.versions.node}.`);
  const stamp = join(root, 'node_modules', '.bold-compass-lock');
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Installing npm packages …');
  await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  mkdirSync(join(root, 'node_modules'), { recursive: true });
  writeFileSync(stamp, wanted);
}

/** Prefix that gives a command the rights to install packages, or undefined where there are none. */
function asAdministrator() {
  if (process.getuid?.() === 0) return [];
  if (hasCommand('sudo') && capture('sudo', ['-n', 'true']).status === 0) return ['sudo', '-n'];
  if (hasCommand('sudo') && process.stdin.isTTY) return ['sudo'];
  return undefined;
}

/** Installs Debian packages. Throws SetupError with the command to run where the rights are missing. */
export async function installDebianPackages(packages, purpose) {
  const command = `apt-get update && apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  const prefix = asAdministrator();
  if (!hasCommand('apt-get') || !prefix) {
    throw new SetupError(
      `${purpose} is missing, and this user may not install it. Have an administrator run:\n\n  ${command}\n\nThen start again.`,
    );
  }
  say(`Installing ${purpose} …`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (args) =>
    run([...prefix, 'apt-get'][0], [...prefix, 'apt-get', ...args].slice(1), { env: environment, stdio: ['inherit', 'ignore', 'inherit'] });
  await apt(['update', '-qq']);
  await apt(['install', '-y', '-qq', '--no-install-recommends', ...packages]);
}
