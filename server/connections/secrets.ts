import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';

/** Keeps secrets at rest: AES-256-GCM (NIST SP 800-38D), a fresh nonce each time. */
export class SecretBox {
  private readonly key: Buffer;

  /** `passphrase` is stretched by scrypt (RFC 7914). */
  constructor(passphrase: string) {
    this.key = scryptSync(passphrase, 'bold-compass connections', 32);
  }

  seal(secret: string): string {
    const nonce = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce);
    const sealed = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** Throws where the secret was sealed with another key, or was changed. */
  open(text: string): string {
    const bytes = Buffer.from(text, 'base64');
    const decipher = createDecipheriv('aes-256-gcm', this.key, bytes.subarray(0, 12));
    decipher.setAuthTag(bytes.subarray(12, 28));
    return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
  }
}

/** The installation's passphrase: from the environment, or from a file of its own that is made once. */
export function installationPassphrase(environment: NodeJS.ProcessEnv): string {
  if (environment.BOLD_COMPASS_SECRET_KEY) return environment.BOLD_COMPASS_SECRET_KEY;
  const path = environment.BOLD_COMPASS_KEY_FILE ?? join(homedir(), '.bold-compass', 'secret-key');
  if (!existsSync(path)) {
    mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
    writeFileSync(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' });
  }
  return readFileSync(path, 'utf8').trim();
}
