import type { DatasetSummary } from '@bold-compass/core/api';
import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { eq } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { sqlState, tables, type Connection } from '../database/index.ts';
import { maySee, seesAll, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import { tableOf } from '../sql/index.ts';
import type { JsonAnswer } from '../threads/index.ts';
import type { AnswerTask } from './answer-task.ts';
import type { Asking, Engine } from './engine.ts';
import { LiveRunner, liveStore, type FindLiveSource, type Runner } from './live.ts';
import { removeSnapshots, snapshotFile } from './snapshot.ts';

export interface LoadedDataset {
  dataset: Dataset;
  store: Store;
  runner: Runner;
  /** Answers questions about exhibits in threads of their own; not there for records that stay where they are. */
  answer?(task: AnswerTask, asking: Asking): Promise<JsonAnswer>;
}

/** What is known of a dataset without its records. */
export interface DatasetHead {
  dataset: Dataset;
  version: number;
  updatedAt: Date;
  /** Who made it; only they see its records until access is decided. */
  owner: string | null;
  accessDecided: boolean;
}

interface Loading {
  loaded: Promise<LoadedDataset>;
  version: number;
}

/** How long an answer of live records is taken for what is there now, in milliseconds. */
const LIVE_MILLISECONDS = 30_000;
/** How long a definition is taken for what it is now: another server that shares the database may change it. */
const HEAD_MILLISECONDS = 1_000;
const MOST_LOADS = 3;

/** The datasets of the application, and their columns once they are asked for. */
export class Catalogue {
  private readonly counted = new LRUCache<string, Promise<Pick<DatasetSummary, 'facts' | 'problem'>>>({ max: 500 });
  private readonly heads = new LRUCache<string, Promise<DatasetHead>>({ max: 1_000, ttl: HEAD_MILLISECONDS });
  private readonly loading = new Map<string, Loading>();

  constructor(
    private readonly connection: Connection,
    private readonly engine: Engine,
    /** Folder of the snapshots; null keeps none. */
    private readonly snapshots: string | null = null,
    private readonly findLiveSource: FindLiveSource | null = null,
  ) {}

  /** A dataset with its columns; the first call loads them. Throws ApiError `not-found`, `dataset-broken`. */
  async open(name: string): Promise<LoadedDataset> {
    const head = await this.definition(name);
    let loading = this.loading.get(name);
    if (!loading || loading.version !== head.version) {
      const started: Loading = { loaded: this.load(head), version: head.version };
      loading = started;
      this.loading.set(name, started);
      // A load that failed is tried again with the next call.
      started.loaded.catch(() => {
        if (this.loading.get(name) === started) this.loading.delete(name);
      });
    }
    return loading.loaded;
  }

  /** A dataset's definition as it stands, and its version. Throws ApiError `not-found`. */
  definition(name: string): Promise<DatasetHead> {
    let head = this.heads.get(name);
    if (!head) {
      head = this.readHead(name);
      this.heads.set(name, head);
      head.catch(() => this.heads.delete(name));
    }
    return head;
  }

  /** The same; null where there is no such dataset any more. */
  async find(name: string): Promise<DatasetHead | null> {
    return this.definition(name).catch((error: unknown) => {
      if (error instanceof ApiError && error.code === 'not-found') return null;
      throw error;
    });
  }

  private async readHead(name: string): Promise<DatasetHead> {
    const [row] = await this.connection.db.select().from(tables.datasets).where(eq(tables.datasets.name, name));
    if (!row) throw new ApiError('not-found', `There is no dataset called "${name}". It may have been removed; open the list of reports.`);
    const { definition, version, updatedAt, owner, accessDecided } = row;
    return { dataset: definition, version, updatedAt, owner, accessDecided };
  }

  private async load(head: DatasetHead): Promise<LoadedDataset> {
    const { dataset, version } = head;
    const { name } = dataset;
    const live = dataset.facts.find((fact) => fact.live);
    if (live && this.findLiveSource) {
      setTimeout(() => this.loading.delete(name), LIVE_MILLISECONDS).unref();
      const source = await this.findLiveSource(live.table);
      const store = await liveStore(dataset, source, `${name}@${version} at ${Date.now()}`);
      return { dataset, store, runner: new LiveRunner(dataset, source) };
    }
    return this.loadRecords(head);
  }

  /**
   * Loads the columns of a dataset. Records that another server replaced in the middle are not there in this snapshot of
   * the database: the load then begins anew.
   */
  private async loadRecords({ dataset, version, updatedAt }: DatasetHead, attempt = 1): Promise<LoadedDataset> {
    const { name } = dataset;
    const state = [this.connection.url.replace(/:[^:@/]*@/, '@'), version, updatedAt, dataset];
    const snapshot = this.snapshots && snapshotFile(this.snapshots, name, state);
    const task = { reader: this.connection.readerConfig, dataset, version: `${name}@${version}`, snapshot };
    const store = await this.engine.load(task).catch((error: unknown) => {
      throw brokenDataset(dataset, error);
    });
    const now = await this.readHead(name);
    if (now.version !== version && attempt < MOST_LOADS) return this.loadRecords(now, attempt + 1);
    return {
      ...{ dataset, store },
      runner: {
        query: (query) => this.engine.query(dataset, store, query),
        records: (query) => this.engine.records(dataset, store, query),
      },
      answer: (task, asking) => this.engine.answer(task, asking),
    };
  }

  /** Forgets a dataset's definition and columns after it changed. */
  forget(name: string): void {
    this.heads.delete(name);
    this.loading.delete(name);
  }

  /** Forgets what is known of a dataset beside its columns: who made it, and whether access is decided. */
  forgetHead(name: string): void {
    this.heads.delete(name);
  }

  /** Forgets that of all datasets: another server may have changed them a moment ago. */
  forgetHeads(): void {
    this.heads.clear();
  }

  /** Forgets a dataset that is no more, with what was kept of it on disk. */
  async removed(name: string): Promise<void> {
    this.forget(name);
    if (this.snapshots) await removeSnapshots(this.snapshots, { gone: name });
  }

  /** Removes what is kept on disk of datasets that are no more. */
  async sweep(): Promise<void> {
    if (!this.snapshots) return;
    const rows = await this.connection.db.select({ name: tables.datasets.name }).from(tables.datasets);
    await removeSnapshots(this.snapshots, { kept: rows.map(({ name }) => name) });
  }

  /** All datasets whose records a person may see. One that cannot be read says so, and the others stand. */
  async summaries(caller: Caller): Promise<DatasetSummary[]> {
    const rows = await this.connection.db.select().from(tables.datasets).orderBy(tables.datasets.name);
    return Promise.all(
      rows
        .filter((row) => maySee(caller, row))
        .map(async ({ name, definition, version, updatedAt, accessDecided, owner }) => {
          const { facts, problem } = await this.counts(definition, `${name}@${version}`);
          const whole = seesAll(caller, { dataset: definition, owner, accessDecided });
          return {
            ...{ name, label: definition.label, description: definition.description, accessDecided, problem },
            // How many records there are in all is not for who sees a part of them.
            facts: whole ? facts : facts.map(({ label }) => ({ label, rows: null })),
            updatedAt: updatedAt.toISOString(),
          };
        }),
    );
  }

  /** How many records the facts of a dataset have, counted once for each state of its data. */
  private counts(dataset: Dataset, version: string): Promise<Pick<DatasetSummary, 'facts' | 'problem'>> {
    let counted = this.counted.get(version);
    if (!counted) {
      counted = this.count(dataset);
      this.counted.set(version, counted);
      counted.then(
        ({ problem }) => problem !== '' && this.counted.delete(version),
        () => this.counted.delete(version),
      );
    }
    return counted;
  }

  private async count(dataset: Dataset): Promise<Pick<DatasetSummary, 'facts' | 'problem'>> {
    let problem = '';
    const facts = await Promise.all(
      dataset.facts.map(async (fact) => {
        if (fact.live) return { label: fact.label, rows: null };
        try {
          const { rows } = await this.connection.records.query<{ n: string }>(`SELECT count(*) AS n FROM ${tableOf(dataset, fact)} AS f`);
          return { label: fact.label, rows: Number(rows[0].n) };
        } catch (error) {
          const broken = brokenDataset(dataset, error);
          if (!(broken instanceof ApiError)) throw error;
          problem = broken.message;
          return { label: fact.label, rows: null };
        }
      }),
    );
    return { facts, problem };
  }
}

const RETYPED = (label: string, words: string): string =>
  `A column of ${label} is of another type than the dataset says (${words}). Set its type in the dataset.`;

/** SQLSTATEs that tell of a definition that no longer fits its tables, and what to say of each. */
const BROKEN: Record<string, (label: string, words: string) => string> = {
  '42P01': (label, words) => `A table of ${label} is not here any more (${words}). Import it again, or remove it from the dataset.`,
  '42703': (label, words) => `A column of ${label} is not here any more (${words}). Choose another one in the dataset.`,
  '42501': (label, words) => `A table of ${label} may not be read (${words}). Choose one that was imported.`,
  '22003': (label) =>
    `${label} holds numbers with more digits than can be counted exactly. Lower the decimal places of the field, or import the column as text.`,
  '42804': RETYPED,
  '42883': RETYPED,
  '42846': RETYPED,
  '22P02': RETYPED,
  '22007': (label, words) => `A column of ${label} holds something that is no date (${words}). Set its type in the dataset.`,
};

/** A failure of reading tables in words for people; others as they are. */
function brokenDataset({ label }: Dataset, error: unknown): unknown {
  const words: ((label: string, words: string) => string) | undefined = BROKEN[sqlState(error) ?? ''];
  return words !== undefined && error instanceof Error ? new ApiError('dataset-broken', words(label, error.message)) : error;
}
