import type { Header, Path } from '../api/index.ts';
import type { State } from '../indicators/index.ts';
import type { NumberFormat } from '../model/index.ts';
import type { ForecastPoint } from '../statistics/index.ts';

/** A member along the axis. */
export interface Category {
  label: string;
  /** Its label with those of the members it is in. */
  name: string;
  /** The same, and whether it is not over, or only forecast. */
  fullLabel: string;
  /** Its place among all members of its level, where colours go by member. */
  place?: number;
  /** The labels of the members it is in, below what the chart is drawn of. */
  groups: readonly string[];
  /** Whether it is a period that is not over: what is drawn is only what there is to date. */
  isPartial: boolean;
  /** Whether it is a period that is only forecast. */
  isForecast: boolean;
  /** The member itself; null for what the chart adds, such as a total. */
  header: Header | null;
}

export type SeriesKind = 'column' | 'line' | 'area' | 'step';

/** One measure through the members along the axis, in one member of the series field. */
export interface Series {
  /** What settings know it by. */
  key: string;
  label: string;
  /** Position of its measure. */
  measure: number;
  measureLabel: string;
  /** The member of the series field; empty where there is none. */
  path: Path;
  /** What that member is called among those of the chart; empty where there is none. */
  member: string;
  /** The labels of that member, level by level. */
  memberLabels: readonly string[];
  as: SeriesKind;
  second: boolean;
  colour: number;
  dashed: boolean;
  hidden: boolean;
  /** Whether it is of a period that is not over: all of it is only what there is to date. */
  isPartial: boolean;
  format: NumberFormat;
  values: readonly (number | null)[];
  states: readonly (State | null)[] | null;
  /** The curve through its values, along the axis and as far as its forecast. */
  trend: { values: readonly (number | null)[]; words: string } | null;
  /** What comes after its values, by place along the axis; null at places before. */
  forecast: { points: readonly (ForecastPoint | null)[]; words: string } | null;
}

/** Whether lengths or areas stand for the values of a series, so that its scale has to hold zero. */
export const beginsAtZero = ({ as }: Pick<Series, 'as'>): boolean => as === 'column' || as === 'area';

/** What stands along an axis and is no member: it has a label, and nothing is asked about it. */
export const plainCategory = (label: string): Category => ({
  ...{ label, name: label, fullLabel: label, groups: [] },
  ...{ isPartial: false, isForecast: false, header: null },
});
