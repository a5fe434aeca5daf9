import type { ChartFigure, Ends } from '@bold-compass/core/chart';
import type { ChartSettings } from '@bold-compass/core/model';
import type { ChartConfiguration } from 'chart.js';
import type { ChosenCell } from '../report/url-state.ts';
import type { ChartTokens } from './tokens.ts';

/** What a point of a chart stands for. */
export interface ChartTarget {
  /** What it says: "Net sales, Jan 2026: € 6.2 M". */
  words: string;
  /** The cell that it draws; null for what the chart adds. */
  cell: ChosenCell | null;
  /** Whether its member can be opened to the level below. */
  opens: boolean;
}

/** A chart as its library draws it, with what each of its points stands for: dataset by dataset, point by point. */
export interface ChartDrawing {
  config: ChartConfiguration;
  targets: readonly (readonly (ChartTarget | null)[])[];
}

/** What a chart is drawn with. */
export interface DrawnWith {
  figure: ChartFigure;
  settings: ChartSettings;
  tokens: ChartTokens;
  /** The names of the measures, by their position. */
  measures: readonly string[];
  /** Ends of the scale that several charts have in common. */
  ends: Ends | null;
  /** The room that there is for it, in pixels. */
  width: number;
  height: number;
  /** Whether negative values are bad: those of a measure that is better when it is higher. */
  warns: boolean;
  chosen: ChosenCell | null;
}

export type DrawChart = (drawn: DrawnWith) => ChartDrawing;
