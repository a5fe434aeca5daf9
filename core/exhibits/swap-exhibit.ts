import type { Choices, Dataset, Exhibit, Report } from '../model/index.ts';
import { swapsFor } from '../prompts/index.ts';
import { openBySwaps, withBranches } from './open-by.ts';
import { kindOf } from './registry.ts';

/** An exhibit as a reader chose to see it: with the measures and levels that prompts, and levels that they open members by, put in the place of others. */
export function exhibitAsChosen<Own extends Exhibit>(
  report: Pick<Report, 'prompts' | 'pages'>,
  choices: Choices,
  exhibit: Own,
  dataset: Dataset,
): Own {
  const swaps = [...swapsFor(report, choices, exhibit), ...openBySwaps(exhibit, choices, dataset)];
  const swapped = swaps.reduce<Exhibit>((own, swap) => kindOf(own).swapped?.(own, swap, dataset) ?? own, exhibit);
  return (swapped.kind === 'crosstab' ? withBranches(swapped, choices, dataset) : swapped) as Own;
}
