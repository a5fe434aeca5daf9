/** A calendar day as the number of days since 1 January 1970 (proleptic Gregorian, no time zone). */
export type Day = number;

export interface CivilDate {
  year: number;
  /** 1 to 12. */
  month: number;
  /** 1 to 31. */
  day: number;
}

/**
 * The day number of a civil date. Source: Howard Hinnant, "chrono-Compatible Low-Level Date Algorithms",
 * `days_from_civil` (public domain).
 */
export function dayOf(year: number, month: number, day: number): Day {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear;
  return era * 146097 + dayOfEra - 719468;
}

/** The civil date of a day number; the inverse of `dayOf`, from the same source (`civil_from_days`). */
export function civilOf(value: Day): CivilDate {
  const z = value + 719468;
  const era = Math.floor(z / 146097);
  const dayOfEra = z - era * 146097;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36524) - Math.floor(dayOfEra / 146096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const monthFromMarch = Math.floor((5 * dayOfYear + 2) / 153);
  const day = dayOfYear - Math.floor((153 * monthFromMarch + 2) / 5) + 1;
  const month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9;
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day };
}

export function daysInMonth(year: number, month: number): number {
  return month === 12 ? 31 : dayOf(year, month + 1, 1) - dayOf(year, month, 1);
}

const pad = (value: number, length: number): string => String(value).padStart(length, '0');

/** ISO 8601 calendar date, `2026-10-31`. */
export function isoDate(value: Day): string {
  const { year, month, day } = civilOf(value);
  return `${pad(year, 4)}-${pad(month, 2)}-${pad(day, 2)}`;
}

/** Reads an ISO 8601 calendar date; undefined where the text is none or the day does not exist. */
export function parseIsoDate(text: string): Day | undefined {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!match) return undefined;
  const [year, month, day] = [Number(match[1]), Number(match[2]), Number(match[3])];
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return undefined;
  return dayOf(year, month, day);
}

/** Day of the week by ISO 8601: 1 is Monday, 7 is Sunday. */
export function isoWeekday(value: Day): number {
  return ((((value + 3) % 7) + 7) % 7) + 1;
}
