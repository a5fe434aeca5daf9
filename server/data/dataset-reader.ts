import type { AnswerData, MemberPath } from '@bold-compass/core/answers';
import { spanQuestion, type DateSpan } from '@bold-compass/core/crosstab';
import { withoutHidden } from '@bold-compass/core/exhibits';
import {
  axisMembers,
  memberLabels,
  memberPlaces,
  type Query,
  type QueryResult,
  type RecordPage,
  type RecordQuery,
  type Store,
} from '@bold-compass/core/engine';
import {
  allOf,
  factKnows,
  factNamed,
  filterSchema,
  fieldPlace,
  findField,
  withReportMeasures,
  type PromptValues,
  type Dataset,
  type Fact,
  type Filter,
  type Measure,
} from '@bold-compass/core/model';
import { accessFilter, memberFilter, ruledFields, type AccessRule } from '../access/index.ts';
import type { JsonAnswer } from '../threads/index.ts';
import type { AnswerQuestion } from './answer-task.ts';
import type { Asking } from './engine.ts';
import type { LoadedDataset } from './catalogue.ts';
import { ByteCache } from './byte-cache.ts';
import { sightOf } from './visible-paths.ts';
import type { Runner } from './live.ts';

/** About what an answer takes: its numbers, and the words of its members. */
const bytesOf = ({ sets, members }: QueryResult): number =>
  sets.reduce((sum, set) => sum + set.size * 8 * (1 + set.values.length + set.keys.length), 1_000) +
  members.reduce((sum, own) => sum + own.length * BYTES_OF_MEMBER, 0);

/** What readers of datasets remember across requests, always by data version and access rules. */
export interface ReaderMemory {
  answers: ByteCache<QueryResult>;
  members: ByteCache<Set<string>>;
}
const ANSWER_BYTES = 200_000_000;
const MEMBER_BYTES = 50_000_000;
/** About what a member takes in a set. */
const BYTES_OF_MEMBER = 60;
export const createReaderMemory = (): ReaderMemory => ({
  answers: new ByteCache(ANSWER_BYTES, bytesOf),
  members: new ByteCache(MEMBER_BYTES, (members) => members.size * BYTES_OF_MEMBER),
});

/**
 * A dataset as one person sees it. This is the only way from a request to the engine, and the one place where access
 * rules are added: nothing that is asked here can reach a record or a member outside them.
 */
export class DatasetReader implements AnswerData {
  readonly dataset: Dataset;
  private readonly store: Store;
  private readonly runner: Runner;

  constructor(
    private readonly loaded: LoadedDataset,
    private readonly rules: AccessRule[],
    private readonly memory: ReaderMemory,
  ) {
    this.dataset = loaded.dataset;
    this.store = loaded.store;
    this.runner = loaded.runner;
  }

  /** The same for a report with measures of its own, and what its prompts stand for in formulas. */
  withMeasures(measures: readonly Measure[], promptValues?: PromptValues): DatasetReader {
    const dataset = withReportMeasures(this.dataset, measures, promptValues);
    return dataset === this.dataset ? this : new DatasetReader({ ...this.loaded, dataset }, this.rules, this.memory);
  }

  /** Tells apart what different people, and different states of the data, are answered. */
  get key(): string {
    return JSON.stringify([this.store.version, memberFilter(this.rules, this.dataset)]);
  }

  /** Answers a question in a thread; undefined where that cannot be, since the records are elsewhere. */
  answer(question: AnswerQuestion, asking: Asking): Promise<JsonAnswer> | undefined {
    return this.loaded.answer?.({ question, dataset: this.dataset, store: this.store, rules: this.rules }, asking);
  }

  /** Whether the values of a field are names that may be somebody else's: dates and measured numbers are not. */
  namesMembers(field: string): boolean {
    const place = findField(this.dataset, field);
    if (!place || place.kind === 'period') return false;
    return place.type === 'text' || (place.kind === 'level' && place.type === 'integer');
  }

  /** Conditions that the person's access rules add to every answer; null when they see everything. */
  get restriction(): Filter | null {
    return memberFilter(this.rules, this.dataset);
  }

  query(query: Query): Promise<QueryResult> {
    return this.seen({ ...query, ...this.askedFor(factNamed(this.dataset, query.fact)) });
  }

  /** Asks under the person's access rules. */
  private async seen(query: Query): Promise<QueryResult> {
    const fact = factNamed(this.dataset, query.fact);
    return this.ask({ ...query, filter: allOf(query.filter, accessFilter(this.rules, this.dataset, fact)) });
  }

  /** What prompts stand for, where the query of a live source may ask for it by name. */
  private askedFor({ live }: Fact): Pick<Query, 'promptValues'> {
    const { promptValues } = this.dataset;
    return live && promptValues ? { promptValues } : {};
  }

  /** Asks as it is: access rules are in the query, or it tells nothing of anybody's records. */
  private ask(query: Query): Promise<QueryResult> {
    const key = JSON.stringify([this.store.version, query]);
    let answer = this.memory.answers.get(key);
    if (!answer) {
      answer = this.runner.query(query);
      this.memory.answers.set(key, answer);
    }
    return answer;
  }

  /** The days that a fact has records of, first and last: no record is told by them, and all readers compare the same days. */
  async span(fact: string, calendar: string): Promise<DateSpan | null> {
    const question = spanQuestion(this.dataset, fact, calendar);
    return question && question.spanOf(await this.ask(question.query));
  }

  records(query: RecordQuery): Promise<RecordPage> {
    const fact = factNamed(this.dataset, query.fact);
    return this.runner.records({
      ...query,
      ...this.askedFor(fact),
      filter: allOf(query.filter, accessFilter(this.rules, this.dataset, fact)),
    });
  }

  /**
   * Members that exist with or without records, as paths along levels of one dimension. Null where they cannot be told,
   * or where the person's rules are about another dimension: then only members with visible records may be shown.
   */
  members(levels: string[], filter: Filter | null): Promise<MemberPath[] | null> {
    return Promise.resolve(this.existingMembers(levels, filter));
  }

  private existingMembers(levels: string[], filter: Filter | null): MemberPath[] | null {
    if (levels.length === 0) return null;
    const { kind, dimension } = fieldPlace(this.dataset, levels[0]);
    if (dimension === null) return null;
    const isOfDimension = (field: string): boolean => fieldPlace(this.dataset, field).dimension?.name === dimension.name;
    if (kind !== 'period' && !ruledFields(this.rules, this.dataset).every(isOfDimension)) return null;
    return axisMembers(this.dataset, this.store, levels, allOf(filter, memberFilter(this.rules, this.dataset)));
  }

  /** Every member of a field that the person may see, with or without records. */
  visibleMembers(field: string): Promise<Set<string>> {
    const key = `${this.key} ${field}`;
    let members = this.memory.members.get(key);
    if (!members) {
      members = this.findVisibleMembers(field);
      this.memory.members.set(key, members);
    }
    return members;
  }

  private async findVisibleMembers(field: string): Promise<Set<string>> {
    const direct = this.existingMembers([field], null);
    if (direct) return new Set(direct.map(([member]) => member).filter((member): member is string => member !== null));
    const seen = new Set<string>();
    for (const fact of this.dataset.facts.filter((one) => factKnows(this.dataset, one, field))) {
      // Whatever prompts stand for: what may be seen does not hang on what is chosen.
      const { members, sets } = await this.seen({ fact: fact.name, filter: null, levels: [field], sets: [[0]], aggregates: [] });
      for (const code of sets[0].keys[0]) if (code > 0) seen.add(members[0][code - 1]);
    }
    return seen;
  }

  /** The words for the members of a field; null where members are their own words. */
  labels(field: string): Promise<ReadonlyMap<string, string> | null> {
    return Promise.resolve(memberLabels(this.dataset, this.store, field));
  }

  order(field: string, by: string): Promise<ReadonlyMap<string, number> | null> {
    return Promise.resolve(memberPlaces(this.dataset, this.store, field, by));
  }

  /** Conditions without the members that are not the person's to see. */
  async readable(filter: Filter | null): Promise<Filter | null> {
    if (filter === null || this.restriction === null) return filter;
    return withoutHidden(filterSchema, filter, sightOf(this));
  }

  /** Whether a value that something names is one the person may see. */
  async isVisible(field: string, member: unknown): Promise<boolean> {
    return typeof member !== 'string' || !this.namesMembers(field) || (await this.visibleMembers(field)).has(member);
  }

  get calendar(): Store['calendar'] {
    return this.store.calendar;
  }
}
