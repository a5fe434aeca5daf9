import type { Driver, Refusal } from '../driver.ts';
import { joinCheck, tablesOf } from './catalogue.ts';
import { postgresqlDialect } from './dialect.ts';
import { refuseOwnTables } from './own-server.ts';
import { openSession } from './session.ts';

/** SQLSTATEs (PostgreSQL documentation, appendix A) that are told in words of their own; others of class 42 are about names. */
const REASONS: Record<string, Refusal['reason']> = { '25006': 'writes', '57014': 'too-slow', '42501': 'not-open', '42601': 'syntax' };

function refusalOf(error: unknown): Refusal | null {
  const { code, message, position, hint } = error as { code?: string; message?: string; position?: string; hint?: string };
  if (!code) return null;
  return {
    reason: REASONS[code] ?? (code.startsWith('42') ? 'name' : 'other'),
    message: message ?? '',
    hint: hint ?? '',
    at: position === undefined ? null : Number(position) - 1,
  };
}

/** PostgreSQL, and databases that speak its protocol. */
export const postgresql: Driver = {
  open: openSession,
  refuseOwn: refuseOwnTables,
  tables: tablesOf,
  joinCheck,
  refusalOf,
  dialect: postgresqlDialect,
};
