import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { asApiError, problemOf } from '../problems/index.ts';

export function errorHandler(logger: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    const known = asApiError(error);
    if (known.code === 'internal') logger.error({ err: error }, 'unforeseen error');
    if (response.headersSent) return next(error);
    const problem = problemOf(known);
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
}
