import type { KpiResponse } from '../api/index.ts';
import { attainment, stateOf } from '../indicators/index.ts';
import { allOf, type Comparison, type Filter, type KpiStrip } from '../model/index.ts';
import { measuresUnder, measureUnder, type MeasuredValue } from './cells.ts';
import type { AnswerContext } from './context.ts';
import { orNull } from './numbers.ts';

/** How a value that something is held against is found, by the kind of comparison. */
const COMPARED: {
  [Kind in Comparison['kind']]: (
    context: AnswerContext,
    measure: string,
    against: Extract<Comparison, { kind: Kind }>,
    filter: Filter | null,
  ) => Promise<MeasuredValue>;
} = {
  measure: (context, _measure, against, filter) => measureUnder(context, against.measure, filter),
  back: (context, measure, against, filter) => measureUnder(context, measure, filter, against),
  value: (_context, _measure, against) => Promise.resolve({ value: against.value, text: null, reason: '', records: [] }),
};

/** What a measure is held against, under the same condition. */
function comparedWith(context: AnswerContext, measure: string, against: Comparison, filter: Filter | null): Promise<MeasuredValue> {
  return COMPARED[against.kind](context, measure, against as never, filter);
}

/** The figures and states of a KPI strip under a scope. */
export async function kpiValues(context: AnswerContext, strip: KpiStrip, scope: Filter | null): Promise<KpiResponse> {
  const filter = allOf(scope, strip.filter);
  const names = strip.kpis.flatMap(({ measure, indicator: { against } }) =>
    against.kind === 'measure' ? [measure, against.measure] : [measure],
  );
  const values = await measuresUnder(context, names, filter);
  return Promise.all(
    strip.kpis.map(async ({ id, measure, indicator }) => {
      const { against } = indicator;
      const own = values.get(measure)!;
      const target = against.kind === 'measure' ? values.get(against.measure)! : await comparedWith(context, measure, against, filter);
      return {
        id,
        value: orNull(own.value),
        target: orNull(target.value),
        attainment: orNull(attainment(own.value, target.value, indicator.by)),
        state: stateOf(own.value, target.value, indicator),
        reason: own.reason || target.reason,
      };
    }),
  );
}
