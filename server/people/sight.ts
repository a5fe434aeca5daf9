import type { Dataset } from '@bold-compass/core/model';
import { memberFilter } from '../access/index.ts';
import type { Caller } from './sessions.ts';

/** Whose a dataset is, and whether it was said who sees it. */
export interface Ownership {
  dataset: Dataset;
  owner: string | null;
  accessDecided: boolean;
}

/** Whether a person sees a dataset at all: until access is decided, only its maker does. */
export const maySee = ({ person }: Caller, { owner, accessDecided }: Omit<Ownership, 'dataset'>): boolean =>
  accessDecided || owner === person.id;

/** Whether a person sees every record of a dataset: only then may they change what it means, since checks speak of all records. */
export const seesAll = (caller: Caller, ownership: Ownership): boolean =>
  maySee(caller, ownership) && memberFilter(caller.rules, ownership.dataset) === null;
