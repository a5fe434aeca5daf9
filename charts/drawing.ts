import type { ChartFigure } from '@bold-compass/core/chart';
import type { ChartSettings } from '@bold-compass/core/model';
import type { ChartConfiguration } from 'chart.js';
import type { ChosenCell } from '@bold-compass/core/chart';
import type { CanvasTokens } from './tokens.ts';

/** What a point of a chart stands for. */
export interface ChartTarget {
  /** What it says: "Net sales, Jan 2026: € 6.2 M". */
  words: string;
  /** The cell that it draws; null for what the chart adds. */
  cell: ChosenCell | null;
  /** Whether its member can be opened to the level below. */
  opens: boolean;
  /** Of several points that a map draws as one: the longitude and latitude where it comes nearer to them. */
  zoomsTo?: readonly [number, number];
}

/** How near a map is, 1 where it fits its data, and the longitude and latitude in its middle, where that was moved. */
export interface MapView {
  zoom: number;
  centre: readonly [number, number] | null;
}

/** A chart as its library draws it, with what each of its points stands for: dataset by dataset, point by point. */
export interface ChartDrawing {
  config: ChartConfiguration;
  targets: readonly (readonly (ChartTarget | null)[])[];
  /** Names, with their values, that have no room in the picture. */
  unnamed?: readonly string[];
  /** What they are called together: those that are smaller than what is named, where nothing is said. */
  unnamedAs?: string;
}

/** What a chart is drawn with. */
export interface DrawnWith {
  figure: ChartFigure;
  settings: ChartSettings;
  tokens: CanvasTokens;
  /** The names of the measures, by their position. */
  measures: readonly string[];
  /** The room that there is for it, in pixels. */
  width: number;
  height: number;
  /** Whether negative values are bad: those of a measure that is better when it is higher. */
  warns: boolean;
  chosen: ChosenCell | null;
  view: MapView;
}

export type DrawChart = (drawn: DrawnWith) => ChartDrawing;
