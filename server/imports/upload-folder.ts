import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PREFIX = 'bold-compass-import-';

/** A folder for uploaded files that only this server reads; its name says which server that is. */
export const makeUploadFolder = (): Promise<string> => mkdtemp(join(tmpdir(), `${PREFIX}${process.pid}-`));

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // A process of someone else may not be asked, but it is there.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Removes the folders of servers that run no more. */
export async function sweepUploadFolders(): Promise<void> {
  for (const name of await readdir(tmpdir()).catch(() => [])) {
    const pid = name.startsWith(PREFIX) ? /^(\d+)-/.exec(name.slice(PREFIX.length))?.[1] : undefined;
    if (pid === undefined || isRunning(Number(pid))) continue;
    // Another user's folder stays with them.
    await rm(join(tmpdir(), name), { recursive: true, force: true }).catch(() => undefined);
  }
}
