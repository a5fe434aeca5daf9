import { AnswerError } from '@bold-compass/core/answers';
import { TooManyOthersError } from '@bold-compass/core/crosstab';
import { CrosstabTooLargeError, QueryError, TooManyGroupsError } from '@bold-compass/core/engine';
import { FormulaError } from '@bold-compass/core/formula';
import { UnknownNameError } from '@bold-compass/core/model';
import { isDiskFull, isUnreachable, sqlState } from '../database/index.ts';
import { ApiError } from './problems.ts';

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
  if (error instanceof TooManyOthersError) {
    return new ApiError(
      'too-large',
      `All others would have to be calculated in ${count.format(error.groups)} places. Choose the top or bottom of all members instead of each parent’s, leave the others out, or close a level.`,
    );
  }
  if (error instanceof TooManyGroupsError) {
    return new ApiError(
      'too-large',
      `This would make more than ${count.format(error.groups)} cells. Choose fewer members above, or close a level.`,
    );
  }
  if (error instanceof AnswerError) return new ApiError(error.code, error.message);
  if (error instanceof QueryError || error instanceof UnknownNameError) return new ApiError('question-invalid', error.message);
  if (error instanceof FormulaError) return new ApiError('formula-invalid', error.message, { problem: error.problem });
  if (isUnreachable(error))
    return new ApiError(
      'database-unreachable',
      'The database does not answer. What you see stays as it is; this page tries again by itself.',
    );
  if (isDiskFull(error))
    return new ApiError(
      'no-space',
      'There is no space left on the disk, so this was not kept; nothing else changed. Ask a steward to make room, then try again.',
    );
  // Values that a column cannot hold: out of range, or with signs that no text has.
  if (['22003', '22021', '22P02', '22P05'].includes(sqlState(error) ?? ''))
    return new ApiError(
      'bad-request',
      'A value in this request is out of range or holds signs that cannot be stored. Correct it and try again.',
    );
  if (error instanceof URIError)
    return new ApiError('bad-request', 'The address cannot be read: a % in it is not followed by two hexadecimal digits.');
  const status = (error as { status?: unknown } | null)?.status;
  if (status === 413) return new ApiError('file-too-large', 'This is larger than what can be taken in one request.');
  if (status === 404) return new ApiError('not-found', 'There is nothing at this address.');
  if (typeof status === 'number' && status >= 400 && status < 500) return new ApiError('bad-request', unreadable(error));
  return new ApiError('internal', 'Something went wrong on the server, and it has been noted. Try again; nothing was lost.');
}

/** What of a request cannot be read, by the types that the body parser tells. */
function unreadable(error: unknown): string {
  switch ((error as { type?: unknown }).type) {
    case 'entity.parse.failed':
      return 'The request cannot be read: its body is not valid JSON.';
    case 'encoding.unsupported':
    case 'charset.unsupported':
      return 'The request cannot be read: send its body as UTF-8 without compression.';
    case 'request.aborted':
    case 'request.size.invalid':
      return 'The request was cut off. Send it again.';
    default:
      return 'The request cannot be read. Check its address and its headers.';
  }
}
