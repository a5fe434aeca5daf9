/**
 * A date, and none where it is no day: PostgreSQL knows `infinity`, and years that ISO 8601 writes with four digits end at 9999.
 */
export const finiteDate = (sql: string): string =>
  `(CASE WHEN (${sql})::date BETWEEN date '0001-01-01' AND date '9999-12-31' THEN (${sql})::date END)`;
