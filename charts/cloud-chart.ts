import type { ChartConfiguration } from 'chart.js';
import { WordCloudController, WordElement } from 'chartjs-chart-wordcloud';
import { Chart } from './chart-js.ts';
import type { DrawChart } from './drawing.ts';
import { partsOf } from './parts-chart.ts';
import { SERIF_FONT } from './tokens.ts';

Chart.register(WordCloudController, WordElement);

/** In pixels. */
const [SMALLEST, LARGEST] = [10, 44];
/** The width of a letter and the height of a line, as parts of the size; how much of the room words may fill. */
const [LETTER, LINE, ROOM] = [0.55, 1.25, 0.45];

/** Members as words, as large as the root of their values: the ink of a word goes by its height and its width. */
export const cloudChart: DrawChart = (drawn) => {
  const { parts, targets, colours } = partsOf(drawn);
  const largest = Math.max(...parts.map(({ value }) => value), 0);
  const sizes = parts.map(({ value }) => Math.sqrt(value / (largest || 1)));
  // As large as leaves room for all of them: words need about twice their own area.
  const area = parts.reduce((sum, { label }, index) => sum + label.length * LETTER * LINE * sizes[index] ** 2, 0);
  const scale = Math.min(LARGEST, Math.sqrt((ROOM * drawn.width * drawn.height) / (area || 1)));
  const config = {
    type: 'wordCloud',
    data: {
      labels: parts.map(({ label }) => label),
      datasets: [
        {
          data: sizes.map((size) => Math.max(SMALLEST, scale * size)),
          color: colours,
          family: SERIF_FONT,
          minRotation: 0,
          maxRotation: 0,
          rotationSteps: 0,
          padding: 2,
        },
      ],
    },
    options: { plugins: { datalabels: { display: false } } },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets] };
};
