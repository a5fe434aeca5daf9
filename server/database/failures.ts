/** The error and what caused it, outermost first. Drizzle and pools wrap what the driver threw. */
function* causes(error: unknown): Generator<{ code?: unknown; message?: unknown; errors?: unknown }> {
  for (let at: unknown = error, depth = 0; at instanceof Error && depth < 6; at = at.cause, depth++) {
    yield at as { code?: unknown };
    if (at instanceof AggregateError) for (const inner of at.errors) yield* causes(inner);
  }
}

/** The SQLSTATE of a failure, or undefined where it is none of the database's. */
export function sqlState(error: unknown): string | undefined {
  for (const { code } of causes(error)) if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return code;
  return undefined;
}

const NETWORK = new Set(['ECONNREFUSED', 'ECONNRESET', 'ENOTFOUND', 'ETIMEDOUT', 'EPIPE']);

/** Whether a failure means that the database cannot be reached now: class 08, 57P (shutdown), 53300, or the network. */
export function isUnreachable(error: unknown): boolean {
  for (const { code, message } of causes(error)) {
    if (typeof code === 'string' && (NETWORK.has(code) || code.startsWith('08') || code.startsWith('57P') || code === '53300')) return true;
    if (
      typeof message === 'string' &&
      /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error/.test(message)
    )
      return true;
  }
  return false;
}

/** Whether there was no room for something: on the database's disk (SQLSTATE 53100), or on the server's. */
export function isDiskFull(error: unknown): boolean {
  for (const { code } of causes(error)) if (code === '53100' || code === 'ENOSPC') return true;
  return false;
}
