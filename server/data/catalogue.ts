import type { DatasetSummary } from '@bold-compass/core/api';
import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { eq } from 'drizzle-orm';
import { tables, type Connection } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { Engine } from './engine.ts';

export interface LoadedDataset {
  dataset: Dataset;
  store: Store;
}

/** The datasets of the application, and their columns once they are asked for. */
export class Catalogue {
  private readonly loading = new Map<string, Promise<LoadedDataset>>();

  constructor(
    private readonly connection: Connection,
    private readonly engine: Engine,
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

  private async load(name: string): Promise<LoadedDataset> {
    const [row] = await this.connection.db.select().from(tables.datasets).where(eq(tables.datasets.name, name));
    if (!row) throw new ApiError('not-found', `There is no dataset called "${name}". It may have been removed; open the list of reports.`);
    const store = await this.engine.load(this.connection.url, row.definition, `${name}@${row.version}`);
    return { dataset: row.definition, store };
  }

  /** Forgets a dataset's columns after its data or definition changed. */
  forget(name: string): void {
    this.loading.delete(name);
  }

  async summaries(): Promise<DatasetSummary[]> {
    const rows = await this.connection.db.select().from(tables.datasets).orderBy(tables.datasets.name);
    return Promise.all(
      rows.map(async ({ name, definition, updatedAt }) => {
        const { store } = await this.open(name);
        return {
          name,
          label: definition.label,
          description: definition.description,
          facts: definition.facts.map((fact) => ({ label: fact.label, rows: store.facts[fact.name].rows })),
          updatedAt: updatedAt.toISOString(),
        };
      }),
    );
  }
}
