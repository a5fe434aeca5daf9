import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { installationPassphrase, SecretBox } from './secrets.ts';

const folder = mkdtempSync(join(tmpdir(), 'bold-compass-secrets-'));
afterAll(() => rmSync(folder, { recursive: true }));

describe('secrets at rest', () => {
  const box = new SecretBox('a passphrase');

  it('come back as they were, and are never sealed alike', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (secret) => {
        const [first, second] = [box.seal(secret), box.seal(secret)];
        expect(first).not.toBe(second);
        expect([box.open(first), box.open(second)]).toEqual([secret, secret]);
      }),
      { seed: 8, numRuns: 100 },
    );
  });

  it('cannot be opened with another passphrase, nor after any byte was changed', () => {
    const sealed = box.seal('the password');
    expect(() => new SecretBox('another').open(sealed)).toThrow();
    const bytes = Buffer.from(sealed, 'base64');
    for (let at = 0; at < bytes.length; at++) {
      const changed = Buffer.from(bytes);
      changed[at] ^= 1;
      expect(() => box.open(changed.toString('base64')), `byte ${at}`).toThrow();
    }
  });
});

describe('the passphrase of an installation', () => {
  it('is the one of the environment, else made once in a file that only its owner reads', () => {
    expect(installationPassphrase({ BOLD_COMPASS_SECRET_KEY: 'given' })).toBe('given');
    const path = join(folder, 'deep', 'key');
    const made = installationPassphrase({ BOLD_COMPASS_KEY_FILE: path });
    expect(Buffer.from(made, 'base64')).toHaveLength(32);
    expect(installationPassphrase({ BOLD_COMPASS_KEY_FILE: path })).toBe(made);
    expect(statSync(path).mode & 0o777).toBe(0o600);
    expect(readFileSync(path, 'utf8').trim()).toBe(made);
  });
});
