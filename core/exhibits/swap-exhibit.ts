import { findMeasure, type Choices, type Dataset, type Exhibit, type Report } from '../model/index.ts';
import { swapsFor, type Swap } from '../prompts/index.ts';
import { relabelled, withFollowers } from './followers.ts';
import { openBySwaps, withBranches } from './open-by.ts';
import { kindOf } from './registry.ts';

/** An exhibit whose title and note name the measure that is chosen, where they named the one in whose place it stands. */
function retitled<Own extends Exhibit>(exhibit: Own, { measures }: Swap, dataset: Dataset): Own {
  const [swapped] = measures;
  if (!swapped) return exhibit;
  const { measures: shown } = kindOf(exhibit).names(exhibit);
  const [from, to] = swapped.map((name) => findMeasure(dataset, name)?.label);
  // Where both are shown, the title speaks of both.
  if (!from || !to || !shown.includes(swapped[0]) || shown.includes(swapped[1])) return exhibit;
  const words = (text: string): string => relabelled(text, from, to);
  return {
    ...exhibit,
    ...('title' in exhibit ? { title: words(exhibit.title) } : {}),
    ...('note' in exhibit ? { note: words(exhibit.note) } : {}),
  };
}

/** An exhibit as a reader chose to see it: with the measures and levels that prompts, and levels that they open members by, put in the place of others. */
export function exhibitAsChosen<Own extends Exhibit>(
  report: Pick<Report, 'prompts' | 'pages'>,
  choices: Choices,
  exhibit: Own,
  dataset: Dataset,
): Own {
  const chosen = swapsFor(report, choices, exhibit).map((swap) => withFollowers(swap, dataset));
  const swaps = [...chosen, ...openBySwaps(exhibit, choices, dataset)];
  const named = chosen.reduce((own, swap) => retitled(own, swap, dataset), exhibit);
  const swapped = swaps.reduce<Exhibit>((own, swap) => kindOf(own).swapped?.(own, swap, dataset) ?? own, named);
  return (swapped.kind === 'crosstab' ? withBranches(swapped, choices, dataset) : swapped) as Own;
}
