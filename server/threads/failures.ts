import { AnswerError } from '@bold-compass/core/answers';
import { TooManyOthersError } from '@bold-compass/core/crosstab';
import { CrosstabTooLargeError, QueryError, TooManyGroupsError } from '@bold-compass/core/engine';
import { FormulaError } from '@bold-compass/core/formula';
import { UnknownNameError } from '@bold-compass/core/model';
import { sqlState } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';

/** A failure as plain data: errors lose their class, and what they carry, on the way between threads. */
interface PortableFailure {
  kind: keyof typeof KINDS;
  data: unknown[];
}

/** A failure of which no more is known than its words and, where a database or the network made it, its code. */
class ThreadError extends Error {
  constructor(
    message: string,
    readonly code: string | undefined,
    stack: string | undefined,
  ) {
    super(message);
    if (stack) this.stack = stack;
  }
}

interface Kind {
  /** What the error is made of again; undefined where it is of another kind. */
  take(error: unknown): unknown[] | undefined;
  make(data: never): Error;
}

function kind<Failure extends Error, Data extends unknown[]>(made: new (...data: Data) => Failure, take: (error: Failure) => Data): Kind {
  return {
    take: (error) => (error instanceof made ? take(error) : undefined),
    make: (data: Data) => new made(...data),
  };
}

const KINDS = {
  problem: kind(ApiError, (error): ConstructorParameters<typeof ApiError> => [error.code, error.message, error.about]),
  answer: kind(AnswerError, (error): ConstructorParameters<typeof AnswerError> => [error.code, error.message]),
  tooManyGroups: kind(TooManyGroupsError, (error): [number] => [error.groups]),
  tooManyOthers: kind(TooManyOthersError, (error): [number] => [error.groups]),
  tooLarge: kind(CrosstabTooLargeError, (error): [number, number] => [error.rows, error.columns]),
  query: kind(QueryError, (error): ConstructorParameters<typeof QueryError> => [error.code, error.subject, error.message]),
  name: kind(UnknownNameError, (error): ConstructorParameters<typeof UnknownNameError> => [error.missing, error.what, error.dataset]),
  formula: kind(FormulaError, (error): ConstructorParameters<typeof FormulaError> => [error.problem]),
};

/** Takes a failure apart, to be sent to another thread. Null for one that is sent as it is. */
export function portable(error: unknown): PortableFailure | { plain: { message: string; code?: string; stack?: string } } {
  for (const [name, { take }] of Object.entries(KINDS)) {
    const data = take(error);
    if (data) return { kind: name as keyof typeof KINDS, data };
  }
  const { message, stack, code } = (error instanceof Error ? error : new Error(String(error))) as Error & { code?: unknown };
  const known = sqlState(error) ?? (typeof code === 'string' ? code : undefined);
  return { plain: { message, stack, ...(known ? { code: known } : {}) } };
}

/** Makes a failure anew that came from another thread. */
export function revived(failure: ReturnType<typeof portable>): Error {
  if ('plain' in failure) return new ThreadError(failure.plain.message, failure.plain.code, failure.plain.stack);
  return KINDS[failure.kind].make(failure.data as never);
}
