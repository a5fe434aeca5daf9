import { countWords } from '../format/index.ts';
import type { ChartSettings } from '../model/index.ts';
import { axisDrawing } from './axis-series.ts';
import { drawnSeries, valuesOfMeasure, type ChartFigure } from './figure.ts';
import { chartKindOf } from './kinds.ts';

type Scales = Pick<ChartSettings, 'scale' | 'second'>;

/** A logarithmic scale that what is drawn does not fit, and what is drawn instead or left out. */
interface LogarithmMisfit {
  words: string;
  /** The scales that are drawn: linear where bars stand on them. */
  drawn: Scales;
  /** The same scales without logarithms. */
  linear: Scales;
}

const linear = ({ scale, second }: Scales): Scales => ({
  scale: { ...scale, logarithmic: undefined },
  second: { ...second, logarithmic: undefined },
});

/** What is drawn on each of the two scales, as far as these may be logarithmic. */
function onScales(figure: ChartFigure): { which: keyof Scales; values: readonly (number | null)[]; isBar: boolean }[] {
  switch (chartKindOf(figure.kind).family) {
    case 'axis':
      return figure.shape.arrangement === 'share'
        ? []
        : axisDrawing(figure)
            .series.filter(({ isShare }) => !isShare)
            .map(({ second, values, as }) => ({ which: second ? 'second' : 'scale', values, isBar: as === 'column' }));
    case 'points':
      return [
        { which: 'second', values: valuesOfMeasure(figure, 0), isBar: false },
        { which: 'scale', values: valuesOfMeasure(figure, 1), isBar: false },
      ];
    case 'boxes':
    case 'bins':
    case 'slopes':
      return drawnSeries(figure).map(({ values }) => ({ which: 'scale', values, isBar: false }));
    case 'parts':
    case 'flows':
    case 'grid':
    case 'days':
    case 'places':
    case 'single':
      return [];
  }
}

/** Why what is drawn does not fit a logarithmic scale: bars begin at zero, and zero and what is below it have no place; null where it fits. */
export function logarithmMisfit(figure: ChartFigure, { scale, second }: Scales): LogarithmMisfit | null {
  const scales: Scales = { scale, second };
  const own = onScales(figure).filter(({ which }) => scales[which].logarithmic);
  if (own.some(({ isBar }) => isBar))
    return {
      words: 'Columns and bars begin at zero, which a logarithmic scale does not have: it is drawn as a linear one.',
      drawn: linear(scales),
      linear: linear(scales),
    };
  const without = own.flatMap(({ values }) => values.filter((value) => value !== null && value <= 0)).length;
  if (without === 0) return null;
  const values = countWords(without, { one: 'value', many: 'values' }, figure.locale);
  const [has, is] = without === 1 ? ['has', 'is'] : ['have', 'are'];
  return {
    words: `${values} at or below zero ${has} no place on a logarithmic scale and ${is} not drawn.`,
    drawn: scales,
    linear: linear(scales),
  };
}
