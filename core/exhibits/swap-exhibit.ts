import { chosenSections, levelsLeft, type Section } from '../sections/index.ts';
import { findMeasure, type Choices, type Dataset, type Exhibit, type Report } from '../model/index.ts';
import { swapsFor, type Swap } from '../prompts/index.ts';
import { relabelled, withFollowers } from './followers.ts';
import { openBySwaps, withBranches } from './open-by.ts';
import { kindOf } from './registry.ts';

/** An exhibit whose title and note name the measure that is chosen, where they named the one in whose place it stands. */
export function retitled<Own extends Exhibit>(exhibit: Own, { measures }: Swap, dataset: Dataset): Own {
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

/** An exhibit without the levels that would show one member, in the sections that it is asked in. */
export function inSections<Own extends Exhibit>(exhibit: Own, sections: readonly Section[], dataset: Dataset): Own {
  if (sections.length === 0) return exhibit;
  return (kindOf(exhibit).inSection?.(exhibit, (fields) => levelsLeft(dataset, fields, sections)) ?? exhibit) as Own;
}

/**
 * An exhibit as a reader chose to see it: with the measures and levels that prompts, and levels that they open members by, put in
 * the place of others, in the section that it is asked in. `other` is its dataset where that is not the report's: prompts say
 * nothing about its names.
 */
export function exhibitAsChosen<Own extends Exhibit>(
  report: Pick<Report, 'prompts' | 'pages'>,
  choices: Choices,
  exhibit: Own,
  dataset: Dataset,
  other: Dataset | null = null,
): Own {
  const sections = chosenSections(choices, exhibit.id);
  if (other) return inSections(exhibit, sections, other);
  const chosen = swapsFor(report, choices, exhibit).map((swap) => withFollowers(swap, dataset));
  const swaps = [...chosen, ...openBySwaps(exhibit, choices, dataset)];
  const named = chosen.reduce((own, swap) => retitled(own, swap, dataset), exhibit);
  const swapped = swaps.reduce<Exhibit>(
    (own, swap) => kindOf(own).swapped?.(own, swap, dataset) ?? own,
    inSections<Exhibit>(named, sections, dataset),
  );
  return (swapped.kind === 'crosstab' ? withBranches(swapped, choices, dataset) : swapped) as Own;
}
