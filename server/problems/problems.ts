import type { Problem } from '@bold-compass/core/api';

/** Every problem the API can answer with: its status and title. A code is never given a second meaning. */
const PROBLEMS = {
  'bad-request': { status: 400, title: 'This request cannot be read' },
  'in-use': { status: 409, title: 'This is in use' },
  'scope-unknown': { status: 422, title: 'This choice is not available' },
  'report-invalid': { status: 422, title: 'This report document is not valid' },
  'question-invalid': { status: 422, title: 'This cannot be calculated' },
  'formula-invalid': { status: 422, title: 'A formula is not valid' },
  'took-too-long': { status: 422, title: 'This took too long' },
  'too-large': { status: 422, title: 'This would be too large to draw' },
  'file-invalid': { status: 422, title: 'This file cannot be read' },
  'query-invalid': { status: 422, title: 'This query cannot be run' },
  'connection-failed': { status: 422, title: 'The connection does not work' },
  'dataset-broken': { status: 422, title: 'This dataset cannot be read' },
  'already-here': { status: 409, title: 'These records are here already' },
  'access-undecided': { status: 409, title: 'Access is not decided' },
  'dataset-refused': { status: 422, title: 'This dataset would count wrongly' },
  'control-total-invalid': { status: 422, title: 'This figure cannot be pinned' },
  'source-drifted': { status: 409, title: 'The source has changed' },
  'rows-refused': { status: 422, title: 'Some rows do not fit' },
  'sign-in-failed': { status: 401, title: 'Sign-in failed' },
  'signed-out': { status: 401, title: 'You are not signed in' },
  'not-allowed': { status: 403, title: 'This is not open to you' },
  'cross-site': { status: 403, title: 'This request came from elsewhere' },
  'not-found': { status: 404, title: 'Not found' },
  'report-not-found': { status: 404, title: 'There is no such report' },
  'exhibit-not-found': { status: 404, title: 'There is no such exhibit' },
  'stale-revision': { status: 409, title: 'Someone else saved this' },
  'changes-unfit': { status: 409, title: 'These changes do not fit' },
  'file-too-large': { status: 413, title: 'This file is too large' },
  'too-many-tries': { status: 429, title: 'Too many tries' },
  internal: { status: 500, title: 'Something went wrong here' },
  // RFC 4918, 11.5.
  'no-space': { status: 507, title: 'There is no space left' },
  'database-unreachable': { status: 503, title: 'The database cannot be reached' },
} as const;
type ProblemCode = keyof typeof PROBLEMS;
export const problemCodes = Object.keys(PROBLEMS) as ProblemCode[];

/** A failure that is answered with problem details. `message` tells the person what to do. */
export class ApiError extends Error {
  constructor(
    readonly code: ProblemCode,
    message: string,
    readonly about?: Record<string, unknown>,
  ) {
    super(message);
    this.name = 'ApiError';
  }
}

/** Someone else saved the same thing in the meantime; `revision` is the one that is there now. */
export const staleRevision = (what: string, revision: number): ApiError =>
  new ApiError(
    'stale-revision',
    `Someone else changed ${what} in the meantime. Reload to go on from their version, or save yours in its place.`,
    { revision },
  );

/** Problem details by RFC 9457. */
export function problemOf({ code, message, about }: ApiError): Problem {
  const { status, title } = PROBLEMS[code];
  return { type: `urn:bold-compass:problem:${code}`, title, status, detail: message, code, ...(about ? { about } : {}) };
}
