import type { KpiResponse } from '@bold-compass/core/api';
import { standing, stateOf } from '@bold-compass/core/indicators';
import { allOf, type Comparison, type Filter, type KpiStrip } from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';
import { measuresUnder, measureUnder, type MeasuredValue } from './cubes.ts';

const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);

/** What a measure is held against, under the same condition. */
export function comparedWith(desk: Desk, measure: string, against: Comparison, filter: Filter | null): Promise<MeasuredValue> {
  switch (against.kind) {
    case 'measure':
      return measureUnder(desk, against.measure, filter);
    case 'back':
      return measureUnder(desk, measure, filter, against);
    case 'value':
      return Promise.resolve({ value: against.value, reason: '', records: [] });
  }
}

/** The figures and states of a KPI strip under a scope. */
export async function kpiValues(desk: Desk, strip: KpiStrip, scope: Filter | null): Promise<KpiResponse> {
  const filter = allOf(scope, strip.filter);
  const names = strip.kpis.flatMap(({ measure, indicator: { against } }) =>
    against.kind === 'measure' ? [measure, against.measure] : [measure],
  );
  const values = await measuresUnder(desk, names, filter);
  return Promise.all(
    strip.kpis.map(async ({ id, measure, indicator }) => {
      const { against } = indicator;
      const own = values.get(measure)!;
      const target = against.kind === 'measure' ? values.get(against.measure)! : await comparedWith(desk, measure, against, filter);
      return {
        id,
        value: orNull(own.value),
        target: orNull(target.value),
        standing: orNull(standing(own.value, target.value, indicator.by)),
        state: stateOf(own.value, target.value, indicator),
        reason: own.reason || target.reason,
      };
    }),
  );
}
