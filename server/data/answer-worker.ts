import { LOCALE } from '@bold-compass/core/format';
import { bytesOfTable, type PreparedTable } from '@bold-compass/core/answers';
import { listRecords, type Query, type RecordQuery, type Store } from '@bold-compass/core/engine';
import type { Dataset, Report } from '@bold-compass/core/model';
import { answeringBytes, jsonBytes } from '../threads/index.ts';
import { answerQuestion } from './answer-question.ts';
import type { AnswerTask } from './answer-task.ts';
import { ByteCache } from './byte-cache.ts';
import { createReaderMemory, DatasetReader } from './dataset-reader.ts';
import { knownStore } from './known-stores.ts';
import type { Runner } from './live.ts';
import { splitQuery } from './split-query.ts';

/** Cross-tabs that this thread keeps put together, for the windows that readers scroll through. */
const TABLE_BYTES = 200_000_000;
const tables = new ByteCache<PreparedTable>(TABLE_BYTES, bytesOfTable);
const memory = createReaderMemory();

/** Answers from the columns in this thread. */
const runnerOf = (dataset: Dataset, store: Store): Runner => ({
  query: (query: Query) => splitQuery(dataset, store, query),
  records: (query: RecordQuery) => Promise.resolve().then(() => listRecords(dataset, store, query)),
});

/** Entry point of a thread that answers questions: nothing that is sorted or put together holds up the server. */
export default answeringBytes(async ({ question, rules, ...task }: AnswerTask) => {
  const { dataset, store } = knownStore(task.dataset, task.store);
  const data = new DatasetReader({ dataset, store, runner: runnerOf(dataset, store) }, rules, memory);
  const [reports, datasets] = question.kind === 'exhibit' ? [question.reports, question.datasets] : [{}, {}];
  const report = (id: string): Promise<Report | null> => Promise.resolve(reports[id] ?? null);
  const datasetOf = (name: string): Promise<Dataset | null> => Promise.resolve(datasets[name] ?? null);
  const context = { dataset, data, tables, locale: LOCALE, report, datasetOf };
  return jsonBytes(await answerQuestion(question, context, data));
});
