import {
  axisMembers,
  codedColumn,
  compareText,
  labelColumnName,
  type Query,
  type QueryResult,
  type RecordPage,
  type RecordQuery,
  type Store,
} from '@bold-compass/core/engine';
import { plainMemberLabel, type MemberLabel } from '@bold-compass/core/format';
import { allOf, factKnows, factNamed, fieldPlace, findField, type Dataset, type Filter } from '@bold-compass/core/model';
import { LRUCache } from 'lru-cache';
import { accessFilter, memberFilter, ruledFields, type AccessRule } from '../people/index.ts';
import type { LoadedDataset } from './catalogue.ts';
import type { Runner } from './live.ts';

const LOCALE = 'en-GB';

const bytesOf = (result: QueryResult): number =>
  result.sets.reduce((sum, set) => sum + set.size * 8 * (1 + set.values.length + set.keys.length), 1_000);

/** What desks remember across requests, always by data version and access rules. */
export interface DeskMemory {
  answers: LRUCache<string, Promise<QueryResult>>;
  members: LRUCache<string, Promise<Set<string>>>;
}
export const createDeskMemory = (): DeskMemory => ({ answers: new LRUCache({ max: 2_000 }), members: new LRUCache({ max: 500 }) });

/**
 * A dataset as one person sees it. This is the only way from a request to the engine, and the one place where access
 * rules are added: nothing that is asked here can reach a record or a member outside them.
 */
export class Desk {
  readonly dataset: Dataset;
  private readonly store: Store;
  private readonly runner: Runner;
  private readonly collator = new Intl.Collator(LOCALE, { numeric: true });
  private readonly labels = new Map<string, Map<string, string>>();
  private readonly orders = new Map<string, Map<string, number>>();
  private readonly plainLabel: MemberLabel;

  constructor(
    loaded: LoadedDataset,
    private readonly rules: AccessRule[],
    private readonly memory: DeskMemory,
  ) {
    this.dataset = loaded.dataset;
    this.store = loaded.store;
    this.runner = loaded.runner;
    this.plainLabel = plainMemberLabel(this.dataset, LOCALE);
  }

  /** Tells apart what different people, and different states of the data, are answered. */
  get viewKey(): string {
    return JSON.stringify([this.store.version, memberFilter(this.rules, this.dataset)]);
  }

  /** Whether the values of a field are names that may be somebody else's: dates and measured numbers are not. */
  namesMembers(field: string): boolean {
    const place = findField(this.dataset, field);
    if (!place || place.kind === 'period') return false;
    const { type } = place.kind === 'level' ? place.level : place.field;
    return type === 'text' || (place.kind === 'level' && type === 'integer');
  }

  /** Conditions that the person's access rules add to every answer; null when they see everything. */
  get restriction(): Filter | null {
    return memberFilter(this.rules, this.dataset);
  }

  async query(query: Query): Promise<QueryResult> {
    const fact = factNamed(this.dataset, query.fact);
    const guarded = { ...query, filter: allOf(query.filter, accessFilter(this.rules, this.dataset, fact)) };
    const key = JSON.stringify([this.store.version, guarded]);
    let answer = this.memory.answers.get(key);
    if (!answer) {
      answer = this.runner.query(guarded);
      this.memory.answers.set(key, answer);
      answer.then(
        (result) => bytesOf(result) > 20_000_000 && this.memory.answers.delete(key),
        () => this.memory.answers.delete(key),
      );
    }
    return answer;
  }

  records(query: RecordQuery): Promise<RecordPage> {
    const fact = factNamed(this.dataset, query.fact);
    return this.runner.records({
      ...query,
      filter: allOf(query.filter, accessFilter(this.rules, this.dataset, fact)),
    });
  }

  /**
   * Members that exist with or without records, as paths along levels of one dimension. Null where they cannot be told,
   * or where the person's rules are about another dimension: then only members with visible records may be shown.
   */
  members(levels: string[], filter: Filter | null): (string | null)[][] | null {
    if (levels.length === 0) return null;
    const place = fieldPlace(this.dataset, levels[0]);
    if (place.kind === 'fact') return null;
    const isOfDimension = (field: string): boolean => {
      const other = fieldPlace(this.dataset, field);
      return other.kind !== 'fact' && other.dimension.name === place.dimension.name;
    };
    if (place.kind !== 'period' && !ruledFields(this.rules, this.dataset).every(isOfDimension)) return null;
    return axisMembers(this.dataset, this.store, levels, allOf(filter, memberFilter(this.rules, this.dataset)));
  }

  /** Every member of a field that the person may see, with or without records. */
  visibleMembers(field: string): Promise<Set<string>> {
    const key = `${this.viewKey} ${field}`;
    let members = this.memory.members.get(key);
    if (!members) {
      members = this.findVisibleMembers(field);
      this.memory.members.set(key, members);
      members.catch(() => this.memory.members.delete(key));
    }
    return members;
  }

  private async findVisibleMembers(field: string): Promise<Set<string>> {
    const direct = this.members([field], null);
    if (direct) return new Set(direct.map(([member]) => member).filter((member): member is string => member !== null));
    const seen = new Set<string>();
    for (const fact of this.dataset.facts.filter((one) => factKnows(this.dataset, one, field))) {
      const { members, sets } = await this.query({ fact: fact.name, filter: null, levels: [field], sets: [[0]], aggregates: [] });
      for (const code of sets[0].keys[0]) if (code > 0) seen.add(members[0][code - 1]);
    }
    return seen;
  }

  /** The words for a member of a field. */
  readonly label: MemberLabel = (field, member) => {
    if (member === null) return this.plainLabel(field, null);
    return this.labelsOf(field).get(member) ?? this.plainLabel(field, member);
  };

  private labelsOf(field: string): Map<string, string> {
    let labels = this.labels.get(field);
    if (!labels) {
      labels = new Map();
      this.labels.set(field, labels);
      const place = fieldPlace(this.dataset, field);
      if (place.kind === 'level' && place.level.labelColumn) {
        const { columns } = this.store.dimensions[place.dimension.name];
        const keys = codedColumn(columns[place.level.name]);
        const words = codedColumn(columns[labelColumnName(place.level.name)]);
        keys.codes.forEach((code, row) => {
          if (code > 0 && words.codes[row] > 0) labels!.set(keys.members[code - 1], words.members[words.codes[row] - 1]);
        });
      }
    }
    return labels;
  }

  /** Natural order of two members: periods by time, texts as the locale sorts their labels; missing members last. */
  compareMembers(field: string, a: string | null, b: string | null): number {
    if (a === null || b === null) return Number(a === null) - Number(b === null);
    if (fieldPlace(this.dataset, field).kind === 'period') return compareText(a, b);
    const place = fieldPlace(this.dataset, field);
    const order = place.kind === 'level' && place.level.orderBy ? this.orderOf(field, place.level.orderBy) : null;
    if (order) return (order.get(a) ?? Infinity) - (order.get(b) ?? Infinity) || compareText(a, b);
    return this.collator.compare(this.label(field, a), this.label(field, b)) || compareText(a, b);
  }

  /** Order of two members by another field of their dimension; 0 where that field says nothing of them. */
  compareMembersBy(field: string, by: string, a: string | null, b: string | null): number {
    const order = this.orderOf(field, by);
    if (!order || a === null || b === null) return Number(a === null) - Number(b === null);
    return (order.get(a) ?? Infinity) - (order.get(b) ?? Infinity) || 0;
  }

  /** The places of a level's members by the smallest value of another field of their dimension; null for other fields. */
  private orderOf(field: string, by: string): Map<string, number> | null {
    const place = fieldPlace(this.dataset, field);
    if (place.kind !== 'level') return null;
    const key = `${field} ${by}`;
    let order = this.orders.get(key);
    if (!order) {
      const { columns } = this.store.dimensions[place.dimension.name];
      if (!columns[by]) return null;
      order = new Map();
      this.orders.set(key, order);
      const members = codedColumn(columns[place.level.name]);
      const places = codedColumn(columns[by]);
      for (let row = 0; row < members.codes.length; row++) {
        const code = members.codes[row];
        if (code === 0 || places.codes[row] === 0) continue;
        const member = members.members[code - 1];
        order.set(member, Math.min(order.get(member) ?? Infinity, places.codes[row]));
      }
    }
    return order;
  }

  get calendar(): Store['calendar'] {
    return this.store.calendar;
  }
}
