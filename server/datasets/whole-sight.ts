import type { Catalogue } from '../data/index.ts';
import { seesAll, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import type { SourceRegistry } from '../sources/index.ts';

/**
 * Who may work with records as a whole: files that join a dataset, and what their texts mean, speak of members and counts
 * that access rules may hide from an analyst.
 */
export class WholeSight {
  constructor(
    private readonly catalogue: Catalogue,
    private readonly sources: SourceRegistry,
  ) {}

  /** Throws ApiError `not-found`, `not-allowed`. */
  async dataset(caller: Caller, name: string): Promise<void> {
    const head = await this.catalogue.definition(name);
    if (!seesAll(caller, head))
      throw new ApiError(
        'not-allowed',
        `You see a part of ${head.dataset.label} or none of it yet, so its records are not yours to change.`,
      );
  }

  /** Throws ApiError `not-found`, `not-allowed`. */
  async source(caller: Caller, id: string): Promise<void> {
    const { owner } = await this.sources.find(id);
    const datasets = await this.sources.datasetsOf(id);
    if (datasets.length === 0 && (owner === null || owner === caller.person.id)) return;
    for (const { name } of datasets) await this.dataset(caller, name);
    if (datasets.length === 0) throw new ApiError('not-found', 'These records are not here any more. Choose others.');
  }
}
