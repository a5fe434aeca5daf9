import { hash, verify } from '@node-rs/argon2';

/** Argon2id with the parameters OWASP's Password Storage Cheat Sheet gives first: 19 MiB, 2 passes, 1 lane. */
const PARAMETERS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, PARAMETERS);
}

/** Compares against a hash that nobody knows where there is no person, so that both answers take the same time. */
let nobody: Promise<string> | undefined;

export async function passwordMatches(passwordHash: string | undefined, password: string): Promise<boolean> {
  nobody ??= hashPassword('nobody');
  const matches = await verify(passwordHash ?? (await nobody), password);
  return matches && passwordHash !== undefined;
}
