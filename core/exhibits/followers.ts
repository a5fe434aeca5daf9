import { parseFormula, partsOfCell, planMeasure, printName, type Cell } from '../formula/index.ts';
import { inPattern } from '../format/index.ts';
import { derivedOf, findMeasure, withReportMeasures, type Dataset, type Measure, type Report } from '../model/index.ts';
import { initialReaderScope, promptValues, type Swap } from '../prompts/index.ts';
import { measuresShown } from './measures-shown.ts';
import { kindOf } from './registry.ts';

/**
 * Measures that are made of one measure alone, such as its share, its growth or its difference to last year, follow when a reader
 * chooses another one in its place: the same is made of that one.
 */

/** The measures that a measure is made of; null where it reads records itself, or has no formula that can be planned. */
function madeOf(dataset: Dataset, name: string): Set<string> | null {
  const names = new Set<string>();
  let readsRecords = false;
  const visit = (part: Cell): void => {
    if (part.kind === 'measure') names.add(part.name);
    else if (part.kind === 'aggregate') readsRecords = true;
    else partsOfCell(part).forEach(visit);
  };
  try {
    const { cell } = planMeasure(dataset, name);
    visit(cell.kind === 'measure' && cell.name === name ? cell.cell : cell);
  } catch {
    return null;
  }
  return readsRecords || names.size === 0 ? null : names;
}

/** The measures that are made of one and of nothing else, however many steps away. */
function followersIn(dataset: Dataset, first: string): string[] {
  const following = new Set([first]);
  for (let size = 0; size < following.size;) {
    size = following.size;
    for (const { name } of dataset.measures) {
      const names = following.has(name) ? null : madeOf(dataset, name);
      if (names && [...names].every((one) => following.has(one))) following.add(name);
    }
  }
  following.delete(first);
  return [...following];
}

/** A formula with other names in the place of some. */
function renamed(formula: string, others: ReadonlyMap<string, string>): string {
  const spans: { from: number; to: number; name: string }[] = [];
  const look = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return;
    // What a prompt is called is no measure.
    if ('kind' in node && node.kind === 'call' && 'name' in node && node.name === 'prompt') return;
    if ('kind' in node && node.kind === 'name' && 'name' in node && 'span' in node) {
      const other = others.get(String(node.name).toLowerCase());
      if (other !== undefined) spans.push({ ...(node.span as { from: number; to: number }), name: other });
    } else Object.values(node).forEach(look);
  };
  look(parseFormula(formula));
  return spans
    .sort((a, b) => b.from - a.from)
    .reduce((text, { from, to, name }) => text.slice(0, from) + printName(name) + text.slice(to), formula);
}

/** What a follower is called once it is made of another measure. */
const followerName = (follower: string, of: string): string => `${follower} of ${of}`;

/** A text with the label of another measure in the place of one, in small letters where that was. */
export function relabelled(text: string, from: string, to: string): string {
  return text.replaceAll(new RegExp(`(?<![\\p{L}\\p{N}])${inPattern(from)}(?![\\p{L}\\p{N}])`, 'giu'), (found) =>
    found[0] === found[0].toLowerCase() ? to[0].toLowerCase() + to.slice(1) : to,
  );
}

/** The prompts of a report that put a measure in the place of another. */
const measurePrompts = ({ prompts }: Pick<Report, 'prompts'>) => prompts.filter((prompt) => prompt.kind === 'measure');

/**
 * The measures of a report, with those that follow where a reader chooses another measure: one for each choice, where no measure
 * of the dataset is the same.
 */
export function measuresOfReport(report: Report, dataset: Dataset): Measure[] {
  if (measurePrompts(report).length === 0) return report.measures;
  // Formulas that read a prompt can only be planned with what it stands for.
  const own = withReportMeasures(dataset, report.measures, promptValues(report, initialReaderScope(report)));
  const key = JSON.stringify([
    'measures that follow',
    measurePrompts(report),
    report.exhibits.map((one) => kindOf(one).names(one).measures),
  ]);
  return [...report.measures, ...derivedOf(own, key, () => followersOf(report, own))];
}

function followersOf(report: Report, own: Dataset): Measure[] {
  const shown = measuresShown(report, report.dataset, own);
  return measurePrompts(report).flatMap(({ measures: [first, ...others] }) => {
    const label = findMeasure(own, first)?.label;
    const followers = label === undefined ? [] : followersIn(own, first);
    if (!followers.some((name) => shown.has(name.toLowerCase()))) return [];
    return others.flatMap((other) => {
      const chosen = findMeasure(own, other);
      if (!chosen) return [];
      const names = new Map([
        [first.toLowerCase(), other],
        ...followers.map((name) => [name.toLowerCase(), followerName(name, other)] as const),
      ]);
      return followers.flatMap((name): Measure[] => {
        const measure = findMeasure(own, name)!;
        const words = relabelled(measure.label, label!, chosen.label);
        return [
          {
            ...measure,
            ...{ name: followerName(name, other), formula: renamed(measure.formula, names) },
            label: words === measure.label ? `${measure.label} of ${chosen.label.toLowerCase()}` : words,
            heading: measure.heading && relabelled(measure.heading, label!, chosen.label),
            ...(chosen.fact === undefined ? {} : { fact: chosen.fact }),
            // A difference is in the unit of what it is made of; a share or a growth stays one.
            format: measure.format.kind === 'percent' ? measure.format : { ...chosen.format, decimals: measure.format.decimals },
            ...(chosen.direction ? { direction: chosen.direction } : {}),
          },
        ];
      });
    });
  });
}

/** A swap with the measures that follow it. */
export function withFollowers(swap: Swap, dataset: Dataset): Swap {
  const followed = [...swap.measures].flatMap(([first, other]) =>
    derivedOf(dataset, `followers of ${first}`, () => followersIn(dataset, first)).flatMap((name): [string, string][] =>
      findMeasure(dataset, followerName(name, other)) ? [[name, followerName(name, other)]] : [],
    ),
  );
  return followed.length === 0 ? swap : { ...swap, measures: new Map([...swap.measures, ...followed]) };
}
