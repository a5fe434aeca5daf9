import type { RequestHandler } from 'express';
import { ApiError } from '../problems/index.ts';

/** No document, condition or request of ours is nested half as deep: what reads them goes down step by step. */
const MOST_DEPTH = 120;

/** Whether a value from outside is nested no deeper than that. Goes level by level, so that depth itself costs nothing. */
function isShallow(value: unknown): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > MOST_DEPTH) return false;
    const next: unknown[] = [];
    for (const node of level) if (typeof node === 'object' && node !== null) for (const inner of Object.values(node)) next.push(inner);
    level = next;
  }
  return true;
}

/** Refuses bodies that are nested too deep. */
export const refuseDeep: RequestHandler = (request, _response, next) => {
  if (isShallow(request.body)) return next();
  throw new ApiError(
    'bad-request',
    'The request is nested too deep to be read: conditions stand inside each other more than a hundred times.',
  );
};
