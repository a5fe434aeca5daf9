import type { DatasetSummary } from '@bold-compass/core/api';
import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { eq } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { tables, type Connection } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import { tableOf } from '../sql/index.ts';
import type { Engine } from './engine.ts';
import { LiveRunner, liveStore, type FindLiveSource, type Runner } from './live.ts';
import { snapshotFile } from './snapshot.ts';

export interface LoadedDataset {
  dataset: Dataset;
  store: Store;
  runner: Runner;
}

/** How long an answer of live records is taken for what is there now, in milliseconds. */
const LIVE_MILLISECONDS = 30_000;

/** The datasets of the application, and their columns once they are asked for. */
export class Catalogue {
  private readonly counted = new LRUCache<string, Promise<DatasetSummary['facts']>>({ max: 500 });
  private readonly loading = new Map<string, Promise<LoadedDataset>>();

  constructor(
    private readonly connection: Connection,
    private readonly engine: Engine,
    /** Folder of the snapshots; null keeps none. */
    private readonly snapshots: string | null = null,
    private readonly findLiveSource: FindLiveSource | null = null,
  ) {}

  /** A dataset with its columns; the first call loads them. Throws ApiError `not-found`. */
  open(name: string): Promise<LoadedDataset> {
    let loading = this.loading.get(name);
    if (!loading) {
      loading = this.load(name);
      this.loading.set(name, loading);
      // A load that failed is tried again with the next call.
      loading.catch(() => this.loading.delete(name));
    }
    return loading;
  }

  /** A dataset's definition as it stands, and its version. Throws ApiError `not-found`. */
  async definition(name: string): Promise<{ dataset: Dataset; version: number; updatedAt: Date }> {
    const [row] = await this.connection.db.select().from(tables.datasets).where(eq(tables.datasets.name, name));
    if (!row) throw new ApiError('not-found', `There is no dataset called "${name}". It may have been removed; open the list of reports.`);
    return { dataset: row.definition, version: row.version, updatedAt: row.updatedAt };
  }

  private async load(name: string): Promise<LoadedDataset> {
    const { dataset, version, updatedAt } = await this.definition(name);
    const live = dataset.facts.find((fact) => fact.live);
    if (live && this.findLiveSource) {
      setTimeout(() => this.loading.delete(name), LIVE_MILLISECONDS).unref();
      const source = await this.findLiveSource(live.table);
      const store = await liveStore(dataset, source, `${name}@${version} at ${Date.now()}`);
      return { dataset, store, runner: new LiveRunner(dataset, source) };
    }
    const state = [this.connection.url.replace(/:[^:@/]*@/, '@'), version, updatedAt, dataset];
    const snapshot = this.snapshots && snapshotFile(this.snapshots, name, state);
    const store = await this.engine.load(this.connection.url, dataset, `${name}@${version}`, snapshot);
    return {
      ...{ dataset, store },
      runner: {
        query: (query) => this.engine.query(dataset, store, query),
        records: (query) => this.engine.records(dataset, store, query),
      },
    };
  }

  /** Forgets a dataset's columns after its data or definition changed. */
  forget(name: string): void {
    this.loading.delete(name);
  }

  async summaries(): Promise<DatasetSummary[]> {
    const rows = await this.connection.db.select().from(tables.datasets).orderBy(tables.datasets.name);
    return Promise.all(
      rows.map(async ({ name, definition, version, updatedAt }) => ({
        name,
        label: definition.label,
        description: definition.description,
        facts: await this.counts(definition, `${name}@${version}`),
        updatedAt: updatedAt.toISOString(),
      })),
    );
  }

  /** How many records the facts of a dataset have, counted once for each state of its data. */
  private counts(dataset: Dataset, version: string): Promise<DatasetSummary['facts']> {
    let counted = this.counted.get(version);
    if (!counted) {
      counted = Promise.all(
        dataset.facts.map(async (fact) => {
          if (fact.live) return { label: fact.label, rows: null };
          const { rows } = await this.connection.pool.query<{ n: string }>(`SELECT count(*) AS n FROM ${tableOf(dataset, fact)} AS f`);
          return { label: fact.label, rows: Number(rows[0].n) };
        }),
      );
      this.counted.set(version, counted);
      counted.catch(() => this.counted.delete(version));
    }
    return counted;
  }
}
