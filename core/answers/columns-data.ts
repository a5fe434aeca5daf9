import {
  axisMembers,
  listRecords,
  memberLabels,
  memberPlaces,
  runQuery,
  type Query,
  type RecordQuery,
  type Store,
} from '../engine/index.ts';
import { spanQuestion } from '../crosstab/index.ts';
import type { Dataset, Filter } from '../model/index.ts';
import type { AnswerData } from './data.ts';

/** Answers from columns in memory, for one who may see all of them: no server stands behind it. */
export class ColumnsData implements AnswerData {
  constructor(
    private readonly dataset: Dataset,
    private readonly store: Store,
  ) {}

  get key(): string {
    return this.store.version;
  }

  get calendar(): Store['calendar'] {
    return this.store.calendar;
  }

  query = (query: Query) => promised(() => runQuery(this.dataset, this.store, query));
  records = (query: RecordQuery) => promised(() => listRecords(this.dataset, this.store, query));
  members = (levels: string[], filter: Filter | null) => promised(() => axisMembers(this.dataset, this.store, levels, filter));
  span = (fact: string, calendar: string) =>
    promised(() => {
      const question = spanQuestion(this.dataset, fact, calendar);
      return question && question.spanOf(runQuery(this.dataset, this.store, question.query));
    });
  labels = (field: string) => promised(() => memberLabels(this.dataset, this.store, field));
  order = (field: string, by: string) => promised(() => memberPlaces(this.dataset, this.store, field, by));
  readable = (filter: Filter | null) => Promise.resolve(filter);
}

/** Work as a promise: what it throws is a rejection. */
async function promised<Result>(work: () => Result): Promise<Result> {
  return await Promise.resolve(work());
}
