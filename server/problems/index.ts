export { asApiError } from './translate.ts';
export { ApiError, problemCodes, problemOf, staleRevision, type ProblemCode } from './problems.ts';
