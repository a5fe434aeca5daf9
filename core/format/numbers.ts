import type { NumberFormat } from '../model/index.ts';

const UNIT_DIVISOR = { one: 1, thousand: 1_000, million: 1_000_000 } as const;
const formatters = new Map<string, Intl.NumberFormat>();

function formatter(locale: string, decimals: number): Intl.NumberFormat {
  const id = `${locale}|${decimals}`;
  let known = formatters.get(id);
  if (!known) {
    known = new Intl.NumberFormat(locale, { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
    formatters.set(id, known);
  }
  return known;
}

/** Shown where there is no value. */
export const NO_VALUE = '\u2013';

const digits = (value: number, decimals: number, locale: string): string => {
  const text = formatter(locale, decimals).format(value);
  // A real minus sign, and none before a rounded zero.
  return /[1-9]/.test(text) ? text.replace('-', '\u2212') : text.replace('-', '');
};

/** Seconds as hours, minutes and seconds: "26:03:09", by the extended format of ISO 8601 with as many hours as there are. */
function durationText(seconds: number): string {
  const whole = Math.round(Math.abs(seconds));
  const two = (part: number): string => String(part).padStart(2, '0');
  const text = `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
  return seconds < 0 && whole > 0 ? `\u2212${text}` : text;
}

/** A cell's text with a negative number in parentheses, as accounts have it. */
export function accountText(value: number | null, format: NumberFormat, locale: string): string {
  const text = cellText(value, format, locale);
  return text.startsWith('\u2212') ? `(${text.slice(1)})` : text;
}

/** A cell's text: the bare figure. Units, currency and percent sign stand in the header (see `unitWords`). */
export function cellText(value: number | null, format: NumberFormat, locale: string): string {
  if (value === null || Number.isNaN(value)) return NO_VALUE;
  if (format.kind === 'duration') return durationText(value);
  const scaled = format.kind === 'percent' ? value * 100 : value / UNIT_DIVISOR[format.unit];
  return digits(scaled, format.decimals, locale);
}

/**
 * A figure in the unit and with the decimals that it is shown with, as a number to calculate on: of a percentage 12.5 for 12.5 %.
 * Durations are texts, as they are shown.
 */
export function plainFigure(value: number, format: NumberFormat): number | string {
  if (format.kind === 'duration') return durationText(value);
  const scaled = format.kind === 'percent' ? value * 100 : value / UNIT_DIVISOR[format.unit];
  // Without the sign of a rounded zero.
  return Number(scaled.toFixed(format.decimals)) + 0;
}

const UNIT_SIGN = { one: '', thousand: '\u00a0k', million: '\u00a0M' } as const;

/** Making a formatter takes long, and there are few currencies. */
const signs = new Map<string, string>();

function currencySign(currency: string, locale: string): string {
  const key = `${currency} ${locale}`;
  const known = signs.get(key);
  if (known !== undefined) return known;
  const parts = new Intl.NumberFormat(locale, { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }).formatToParts(0);
  const sign = parts.find((part) => part.type === 'currency')?.value ?? currency;
  signs.set(key, sign);
  return sign;
}

/** A figure that stands alone, with its unit: "€ 38.42 M", "41.6 %". */
export function figureText(value: number | null, format: NumberFormat, locale: string): string {
  if (value === null || Number.isNaN(value)) return NO_VALUE;
  const text = cellText(value, format, locale);
  if (format.kind === 'percent') return `${text}\u00a0%`;
  if (format.kind === 'duration') return text;
  const unit = UNIT_SIGN[format.unit];
  return format.kind === 'currency' && format.currency ? `${currencySign(format.currency, locale)}\u00a0${text}${unit}` : `${text}${unit}`;
}

/** A limit that somebody set: percents without decimals where they are whole, "96 %"; other figures as they are written. */
export function limitText(value: number, format: NumberFormat, locale: string): string {
  const isWhole = format.kind === 'percent' && Math.abs(value * 100 - Math.round(value * 100)) < 1e-9;
  return figureText(value, isWhole ? { ...format, decimals: 0 } : format, locale);
}

/** A number by itself, with as many digits as tell it: "1,234.5", "0.0123". */
export const plainNumber = (value: number, locale: string, digits = 4): string =>
  new Intl.NumberFormat(locale, { maximumSignificantDigits: digits }).format(value).replace('-', '\u2212');

/** The unit in words, for the line over a table: "thousand euro", "%". Empty for plain numbers. */
export function unitWords(format: NumberFormat, locale: string): string {
  if (format.kind === 'percent') return '%';
  if (format.kind === 'duration') return 'hours:minutes:seconds';
  const scale = format.unit === 'one' ? '' : format.unit;
  if (format.kind !== 'currency' || !format.currency) return scale;
  const name = new Intl.DisplayNames(locale, { type: 'currency' }).of(format.currency) ?? format.currency;
  return `${scale} ${name.toLowerCase()}`.trim();
}

/** The unit as a sign: "€\u00a0k", "%". Empty for plain numbers, and for durations, which tell it themselves. */
function unitSign(format: NumberFormat, locale: string): string {
  if (format.kind === 'percent') return '%';
  if (format.kind === 'duration') return '';
  const currency = format.kind === 'currency' && format.currency ? currencySign(format.currency, locale) : '';
  return `${currency}${UNIT_SIGN[format.unit]}`.trim();
}

/** The signs of the units of several figures beside each other; empty for all where one line can say it of all of them. */
export function unitsWhereTheyDiffer(formats: readonly (NumberFormat | null)[], locale: string): string[] {
  const signs = formats.map((format) => (format ? unitSign(format, locale) : null));
  const differ = new Set(signs.filter((sign) => sign !== null)).size > 1;
  return signs.map((sign) => (differ ? (sign ?? '') : ''));
}

/** A difference without its sign, as it is written in words: of percents in points, "1.4 pt", of other figures like these. */
export const differenceText = (difference: number, format: NumberFormat, locale: string): string =>
  format.kind === 'percent' ? `${digits(difference * 100, format.decimals, locale)}\u00a0pt` : figureText(difference, format, locale);

/** A difference with its sign: "+5.9 %", "−1.4 pt". Points are used for differences of percents. */
export function signedPercent(ratio: number, locale: string, unit: '%' | 'pt' = '%'): string {
  const text = digits(Math.abs(ratio) * 100, 1, locale);
  const sign = !/[1-9]/.test(text) ? '\u00b1' : ratio < 0 ? '\u2212' : '+';
  return `${sign}${text}\u00a0${unit}`;
}
