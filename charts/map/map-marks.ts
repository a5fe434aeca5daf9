import type { ChartType, Plugin } from 'chart.js';

/** Parts of a place, drawn at it: as columns, or as a pie. */
export interface MapMark {
  parts: readonly { value: number; colour: string }[];
}

export interface MapMarkOptions {
  /** The dataset whose points the marks stand at; each has the mark of its place among them. */
  dataset: number;
  as: 'columns' | 'pies';
  marks: readonly MapMark[];
  /** The value that has the full height, or the sum that has the full radius. */
  most: number;
  paper: string;
}

declare module 'chart.js' {
  // The name of the type parameter is the library's.
  interface PluginOptionsByType<TType extends ChartType> {
    mapMarks?: MapMarkOptions & { of?: TType };
  }
}

/** In pixels. */
const [WIDTH, HEIGHT] = [7, 44];
export const [SMALLEST_PIE, LARGEST_PIE] = [5, 19];

/** The radius of a pie: its area stands for the sum of its parts. */
export const pieRadius = (sum: number, most: number): number => Math.max(SMALLEST_PIE, LARGEST_PIE * Math.sqrt(most > 0 ? sum / most : 0));

function drawColumns(context: CanvasRenderingContext2D, { parts }: MapMark, x: number, y: number, most: number, paper: string): void {
  const left = x - (parts.length * WIDTH) / 2;
  parts.forEach(({ value, colour }, index) => {
    const height = most > 0 ? (HEIGHT * value) / most : 0;
    context.fillStyle = colour;
    context.strokeStyle = paper;
    context.lineWidth = 1;
    context.fillRect(left + index * WIDTH, y - height, WIDTH - 1, height);
    context.strokeRect(left + index * WIDTH, y - height, WIDTH - 1, height);
  });
}

function drawPie(context: CanvasRenderingContext2D, { parts }: MapMark, x: number, y: number, most: number, paper: string): void {
  const sum = parts.reduce((total, { value }) => total + Math.max(0, value), 0);
  if (sum === 0) return;
  const radius = pieRadius(sum, most);
  let from = -Math.PI / 2;
  for (const { value, colour } of parts) {
    const to = from + (2 * Math.PI * Math.max(0, value)) / sum;
    context.beginPath();
    context.moveTo(x, y);
    context.arc(x, y, radius, from, to);
    context.closePath();
    context.fillStyle = colour;
    context.strokeStyle = paper;
    context.lineWidth = 1;
    context.fill();
    context.stroke();
    from = to;
  }
}

/** Draws parts at their places over a map. */
export const mapMarks: Plugin = {
  id: 'mapMarks',
  afterDatasetsDraw(chart, _args, options) {
    const { dataset, as, marks = [], most, paper } = options as Partial<MapMarkOptions>;
    if (dataset === undefined || marks.length === 0) return;
    const { ctx } = chart;
    ctx.save();
    chart.getDatasetMeta(dataset).data.forEach((element, index) => {
      const { x, y } = element.getProps(['x', 'y'], true);
      if (marks[index]) (as === 'pies' ? drawPie : drawColumns)(ctx, marks[index], x, y, most ?? 0, paper ?? '');
    });
    ctx.restore();
  },
};
