import type { KpiResponse } from '@bold-compass/core/api';
import { standing, stateOf } from '@bold-compass/core/indicators';
import type { Comparison, Filter, KpiStrip } from '@bold-compass/core/model';
import { allOf } from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';
import { measureUnder, type MeasuredValue } from './cubes.ts';

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
export function kpiValues(desk: Desk, strip: KpiStrip, scope: Filter | null): Promise<KpiResponse> {
  const filter = allOf(scope, strip.filter);
  return Promise.all(
    strip.kpis.map(async ({ id, measure, indicator }) => {
      const [own, target] = await Promise.all([
        measureUnder(desk, measure, filter),
        comparedWith(desk, measure, indicator.against, filter),
      ]);
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
