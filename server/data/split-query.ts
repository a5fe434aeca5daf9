import { availableParallelism } from 'node:os';
import { canSplit, planQuery, runPlan, runSplitQuery, type Query, type QueryResult, type Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { Threads } from '../threads/index.ts';
import type { ScanTask } from './scan-worker.ts';

/** Fewer records are counted before another thread has heard of them. */
const WORTH_SPLITTING = 300_000;
/** More threads than that wait for memory rather than for the processor. */
const MOST_PARTS = 4;
const parts = Math.min(MOST_PARTS, availableParallelism());
let helpers: Threads<ScanTask> | undefined;

/** Answers a query from columns, with the help of other threads where there is much to count. Throws as `runQuery` does. */
export async function splitQuery(dataset: Dataset, store: Store, query: Query): Promise<QueryResult> {
  const plan = planQuery(dataset, store, query);
  if (parts < 2 || plan.rows < WORTH_SPLITTING || !canSplit(plan)) return runPlan(plan);
  const pool = (helpers ??= new Threads<ScanTask>(import.meta.url, './scan-worker.js', './scan-worker.ts', parts - 1));
  return runSplitQuery(plan, (range) => pool.run({ dataset, store, query, range }), parts);
}
