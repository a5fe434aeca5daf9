import {
  askQueries,
  Cube,
  isOfCell,
  planCrosstab,
  resolvePlan,
  type CellReader,
  type CrosstabPlan,
  type Depths,
} from '../crosstab/index.ts';
import type { QueryResult } from '../engine/index.ts';
import type { ShiftUnit } from '../calendar/index.ts';
import { backMeasure } from '../indicators/index.ts';
import { axisOver, withReportMeasures, type Crosstab, type Dataset, type Fact, type Filter } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import type { AnswerData } from './data.ts';

type CubeSpec = Pick<Crosstab, 'side' | 'top' | 'cells' | 'filter'>;

/** A cross-tab of measures alone, for questions about single cells and their members. */
export function plainCrosstab(measures: string[], side: string[] = []): CubeSpec {
  return { side: axisOver(side, { total: 'always' }), top: axisOver([]), cells: measures.map((measure) => ({ measure })), filter: null };
}

/** Asks the planned queries. */
export function askParts(data: AnswerData, plan: CrosstabPlan): Promise<(QueryResult | null)[]> {
  return askQueries(plan.parts, (query) => data.query(query));
}

/** Asks the planned queries and puts the answers together. */
export async function askCube(data: AnswerData, plan: CrosstabPlan): Promise<Cube> {
  await resolvePlan(data, plan);
  return new Cube(plan, await askParts(data, plan), { side: null, top: null });
}

/** Plans and asks in one go. */
export function cubeFor(
  { dataset, data }: AnswerContext,
  spec: CubeSpec,
  scope: Filter | null,
  depths: Depths,
  extra: string[] = [],
): Promise<Cube> {
  return askCube(data, planCrosstab(dataset, spec, scope, depths, extra));
}

/** One value with the reason why there is none. */
export interface MeasuredValue {
  /** NaN where there is none, or a text. */
  value: number;
  text: string | null;
  reason: string;
  /** Records counted, per fact. */
  records: { fact: Fact; count: number }[];
}

interface Back {
  amount: number;
  unit: ShiftUnit;
}

/** The dataset with a measure over the same days some periods back, which is an ordinary formula. */
export function withBack(dataset: Dataset, measure: string, back: Back): { dataset: Dataset; name: string } {
  const moved = backMeasure(dataset, measure, back);
  return { dataset: withReportMeasures(dataset, [moved], dataset.promptValues), name: moved.name };
}

/** The values of measures under a condition. Each fact is asked once, however many measures it is in. */
export async function measuresUnder(
  { dataset, data }: Pick<AnswerContext, 'dataset' | 'data'>,
  measures: string[],
  filter: Filter | null,
): Promise<Map<string, MeasuredValue>> {
  const plan = planCrosstab(dataset, plainCrosstab([...new Set(measures)]), filter, { side: 0, top: 0 });
  const cube = await askCube(data, plan);
  return new Map(
    plan.measures.map(({ name, parts }) => {
      const value = cube.cell(name, 0, 0);
      return [
        name,
        {
          value: typeof value === 'number' ? value : Number.NaN,
          text: typeof value === 'string' ? value : null,
          reason: cube.reason(name, 0, 0),
          records: recordsBehind(cube, parts, 0, 0),
        },
      ];
    }),
  );
}

/** The records of each fact that a measure reads: in the cell itself, else on the dates that its formula goes to. */
export function recordsBehind(cells: CellReader, parts: readonly number[], side: number, top: number): MeasuredValue['records'] {
  const { plan } = cells;
  const facts = [...new Set(parts.map((part) => plan.parts[part].fact))];
  return facts.map((fact) => {
    const own = parts.filter((part) => plan.parts[part].fact === fact);
    const isHere = own.some((part) => plan.parts[part].context.moves.length === 0);
    const moved = isHere
      ? undefined
      : own.find((part) => isOfCell(plan.parts[part].context) && (plan.parts[part].dates?.moved.length ?? 0) > 0);
    const part = moved ?? plan.parts.findIndex((one) => one.fact === fact);
    return { fact, count: cells.partRecords(part, side, top) };
  });
}

/** The value of one measure under a condition, optionally over the same days some periods back. */
export async function measureUnder(
  context: Pick<AnswerContext, 'dataset' | 'data'>,
  measure: string,
  filter: Filter | null,
  back?: Back,
): Promise<MeasuredValue> {
  const { dataset, name } = back ? withBack(context.dataset, measure, back) : { dataset: context.dataset, name: measure };
  const [value] = (await measuresUnder({ dataset, data: context.data }, [name], filter)).values();
  return value;
}
