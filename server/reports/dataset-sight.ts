import type { Catalogue } from '../data/index.ts';
import { maySee, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';

/** Whether a caller may see datasets at all. Every way to a report asks this of each dataset that the report stands on. */
export class DatasetSight {
  constructor(private readonly catalogue: Catalogue) {}

  /**
   * Until access to a dataset is decided, only its maker sees it. A dataset that is not there any more is seen by nobody:
   * its exhibits say so themselves. Throws ApiError `not-allowed`.
   */
  async require(caller: Caller, datasets: readonly string[]): Promise<void> {
    for (const name of new Set(datasets)) {
      const head = await this.catalogue.find(name);
      if (head && !maySee(caller, head)) {
        throw new ApiError(
          'not-allowed',
          `It is not decided yet who sees ${head.dataset.label}, so only its maker does. Ask them to decide on access.`,
        );
      }
    }
  }
}
