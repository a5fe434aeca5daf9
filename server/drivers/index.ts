import type { Driver } from './driver.ts';
import { postgresql } from './postgresql/index.ts';

export { AnswerTooLarge, type ConnectionSettings, type DescribedColumn, type Driver, type Session } from './driver.ts';

/** Every kind of database that records are read from. */
const DRIVERS = { postgresql } satisfies Record<string, Driver>;
type DatabaseKind = keyof typeof DRIVERS;

export const driverOf = (kind: DatabaseKind): Driver => DRIVERS[kind];
