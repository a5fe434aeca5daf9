export { asApiError } from './translate.ts';
export { ApiError, problemCodes, problemOf, staleRevision } from './problems.ts';
