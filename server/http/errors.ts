import { CrosstabTooLargeError, TooManyPicksError } from '@bold-compass/core/crosstab';
import { QueryError, TooManyGroupsError } from '@bold-compass/core/engine';
import { FormulaError } from '@bold-compass/core/formula';
import { UnknownNameError } from '@bold-compass/core/model';
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { isUnreachable } from '../database/index.ts';
import { ApiError, problemOf } from './problems.ts';

const count = new Intl.NumberFormat('en-GB');

/** Turns whatever was thrown into problem details. Messages of unforeseen errors stay in the log. */
export function asApiError(error: unknown): ApiError {
  if (error instanceof ApiError) return error;
  if (error instanceof CrosstabTooLargeError) {
    return new ApiError(
      'too-large',
      `This would make ${count.format(error.rows)} rows and ${count.format(error.columns)} columns. Choose fewer members above, or close a level.`,
      {
        rows: error.rows,
        columns: error.columns,
      },
    );
  }
  if (error instanceof TooManyPicksError) {
    return new ApiError(
      'too-large',
      `All others would have to be worked out in ${count.format(error.groups)} places. Pick members of all instead of each parent, leave the others out, or close a level.`,
    );
  }
  if (error instanceof TooManyGroupsError) {
    return new ApiError(
      'too-large',
      `This would make more than ${count.format(error.groups)} cells. Choose fewer members above, or close a level.`,
    );
  }
  if (error instanceof QueryError || error instanceof UnknownNameError) return new ApiError('question-invalid', error.message);
  if (error instanceof FormulaError) return new ApiError('formula-invalid', error.message, { problem: error.problem });
  if (isUnreachable(error))
    return new ApiError(
      'database-unreachable',
      'The database does not answer. What you see stays as it is; this page tries again by itself.',
    );
  const status = (error as { status?: unknown } | null)?.status;
  if (status === 413) return new ApiError('file-too-large', 'This is larger than what can be taken in one request.');
  if (status === 404) return new ApiError('not-found', 'There is nothing at this address.');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new ApiError('bad-request', 'The request cannot be read: its body is not valid JSON.');
  return new ApiError('internal', 'Something went wrong on the server, and it has been noted. Try again; nothing was lost.');
}

export function errorHandler(logger: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    const known = asApiError(error);
    if (known.code === 'internal') logger.error({ err: error }, 'unforeseen error');
    if (response.headersSent) return next(error);
    const problem = problemOf(known);
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
}
