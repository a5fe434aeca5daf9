import type { Driver } from './driver.ts';
import { postgresql } from './postgresql/index.ts';

export {
  AnswerTooLarge,
  type Bound,
  type ConnectionSettings,
  type DescribedColumn,
  type Driver,
  type Refusal,
  type Session,
  type SessionLimits,
  type TextRows,
} from './driver.ts';

/** Every kind of database that records are read from. */
export const DRIVERS = { postgresql } satisfies Record<string, Driver>;
export type DatabaseKind = keyof typeof DRIVERS;

export const driverOf = (kind: DatabaseKind): Driver => DRIVERS[kind];
