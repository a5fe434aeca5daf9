import { chartKindOf } from '@bold-compass/core/chart';
import type { ChartConfiguration, ChartDataset } from 'chart.js';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { patternOf } from './patterns.ts';
import { opaque } from './tokens.ts';

/** Lines and points of series are told apart by these, where there are no colours. */
const DASHES = [[], [7, 3], [2, 3], [9, 3, 2, 3], [4, 2], [12, 4], [2, 6], [6, 2, 2, 2]];
const SHAPES = ['circle', 'rect', 'triangle', 'rectRot', 'star', 'cross', 'rectRounded', 'crossRot'];
/** How much larger letters and stronger lines are where a chart is read from far. */
const [LARGER, STRONGER] = [1.25, 1.5];

type AnyDataset = ChartDataset & Record<string, unknown>;

/** Fills bars and slices with patterns: a series keeps its own, in its own colour or in ink. */
function inPatterns({ figure, tokens }: DrawnWith, drawing: ChartDrawing, inInk: boolean): ChartDrawing {
  const { family, slices } = chartKindOf(figure.kind);
  if (family !== 'axis' && family !== 'points' && !slices) return drawing;
  /** Colours that no series has take the patterns after theirs. */
  const others: string[] = [];
  function patternAt(colour: string): number {
    const own = tokens.series.indexOf(opaque(colour));
    if (own >= 0) return own;
    if (!others.includes(opaque(colour))) others.push(opaque(colour));
    return others.indexOf(opaque(colour)) + 1;
  }
  const fill = (colour: string): CanvasPattern | string => patternOf(patternAt(colour), inInk ? tokens.ink : opaque(colour), tokens.paper);
  const filled = (own: unknown): unknown =>
    typeof own === 'string' ? fill(own) : Array.isArray(own) ? own.map((one: string) => fill(one)) : own;
  function restyle(dataset: AnyDataset, index: number): AnyDataset {
    const { type = drawing.config.type } = dataset as { type?: string };
    if (type === 'bar' || type === 'doughnut')
      return { ...dataset, backgroundColor: filled(dataset.backgroundColor), borderColor: tokens.ink, borderWidth: 1 } as AnyDataset;
    const { borderColor: line } = dataset;
    if (type === 'line' && typeof line === 'string' && tokens.series.includes(line)) {
      const hasDash = Array.isArray(dataset.borderDash) && dataset.borderDash.length > 0;
      return {
        ...dataset,
        borderColor: inInk ? tokens.ink : line,
        ...(dataset.fill ? { backgroundColor: filled(dataset.backgroundColor) } : {}),
        ...(hasDash ? {} : { borderDash: DASHES[tokens.series.indexOf(line)] }),
      } as AnyDataset;
    }
    if (type === 'bubble') return { ...dataset, pointStyle: SHAPES[index % SHAPES.length] } as AnyDataset;
    return dataset;
  }
  const datasets = (drawing.config.data.datasets as AnyDataset[]).map(restyle);
  return { ...drawing, config: { ...drawing.config, data: { ...drawing.config.data, datasets } } as ChartConfiguration };
}

/** The same options with larger letters, wherever a font has a size. */
function withLargerLetters(part: unknown): unknown {
  if (Array.isArray(part)) return part.map(withLargerLetters);
  if (typeof part !== 'object' || part === null || Object.getPrototypeOf(part) !== Object.prototype) return part;
  return Object.fromEntries(
    Object.entries(part).map(([name, own]) => {
      const size = name === 'font' && typeof own === 'object' && own !== null && 'size' in own ? own.size : undefined;
      return [name, typeof size === 'number' ? { ...(own as object), size: size * LARGER } : withLargerLetters(own)];
    }),
  );
}

const strong = (width: unknown): unknown => (typeof width === 'number' ? width * STRONGER : width);

function bolder(drawing: ChartDrawing): ChartDrawing {
  const datasets = (drawing.config.data.datasets as AnyDataset[]).map((dataset) =>
    (dataset as { type?: string }).type === 'line'
      ? { ...dataset, borderWidth: strong(dataset.borderWidth), pointRadius: strong(dataset.pointRadius) }
      : { ...dataset, maxBarThickness: 64, categoryPercentage: 0.86 },
  );
  const options = withLargerLetters(drawing.config.options) as ChartConfiguration['options'];
  return { ...drawing, config: { ...drawing.config, options, data: { ...drawing.config.data, datasets } } as ChartConfiguration };
}

/** A drawing in the style of its chart; what is printed has patterns in its colours, so that it can be read without them. */
export function inStyle(drawn: DrawnWith, drawing: ChartDrawing, isPrinted: boolean): ChartDrawing {
  const { style } = drawn.settings;
  if (style === 'monochrome') return inPatterns(drawn, drawing, true);
  const own = style === 'bold' ? bolder(drawing) : drawing;
  return isPrinted ? inPatterns(drawn, own, false) : own;
}
