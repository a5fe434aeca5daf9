import type { ExplainRequest, Explanation } from '../api/index.ts';
import { isCombined, pathCondition, reasonNotKnown, type SelectedMembers } from '../crosstab/index.ts';
import {
  allOf,
  factNamed,
  fieldLabel,
  fieldsOf,
  findField,
  isDataExhibit,
  type Crosstab,
  type Dataset,
  type Filter,
  type List,
  type Report,
  type Scope,
} from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import type { KeptMembers } from './crosstab-window.ts';
import { askedFilter, type Asked } from './scope.ts';

/** A cell of a cross-tab: its members on both axes, and its measure. */
export type CellPlace = Pick<ExplainRequest, 'side' | 'top' | 'measure' | 'standing'>;
type DrillThrough = Explanation['drills'][number];

/** What is known of the cell beside its place. */
interface CellFacts {
  selected: SelectedMembers[];
  kept: KeptMembers[];
  /** Records of the first fact behind it. */
  records: number;
}

/** Longest conditions, as characters of JSON, that an address carries. */
const LONGEST = 6_000;

/**
 * Where a cell leads: the links of its measure, with the conditions of the cell and the number of records that the list in
 * the other report shows under them.
 */
export async function drillThroughs(
  context: AnswerContext,
  exhibit: Crosstab,
  measure: string,
  asked: Asked,
  place: CellPlace,
  facts: CellFacts,
): Promise<DrillThrough[]> {
  const carried = carriedConditions(exhibit, asked, place, facts);
  const links = exhibit.drills.filter((drill) => !drill.measures || drill.measures.includes(measure));
  return Promise.all(
    links.map(async ({ report, label }) => ({
      report,
      label,
      ...carried,
      ...(await promised(context, await context.report(report), carried, facts)),
    })),
  );
}

/**
 * The conditions that a cell stands under: members by name as a scope, which prompts of the other report take up; anything
 * else (missing members, all others, the exhibit's own filter, members kept by a measure) as a condition beside it.
 */
function carriedConditions(exhibit: Crosstab, { scope, where }: Asked, place: CellPlace, { selected, kept }: CellFacts): Asked {
  const carried: Scope = { ...scope };
  const beside: (Filter | null)[] = [where, exhibit.filter];
  const walk = (which: 'side' | 'top'): void => {
    const { fields } = exhibit[which];
    const path = place[which];
    path.forEach((member, level) => {
      const field = fields[level];
      if (member !== null && !isCombined(member)) carried[field] = [member];
      else beside.push(pathCondition([field], [member], selectedUnder(which, path.slice(0, level), field, selected)));
    });
  };
  walk('side');
  walk('top');
  // A member that the cell stands at is among those that were kept.
  beside.push(...kept.filter(({ field }) => carried[field]?.length !== 1).map(({ filter }) => filter));
  return { scope: carried, where: allOf(...beside) };
}

/** What is selected of a field under a parent, told as at the top: the parents are carried by themselves. */
function selectedUnder(
  which: 'side' | 'top',
  parent: readonly (string | null)[],
  field: string,
  selected: readonly SelectedMembers[],
): SelectedMembers[] {
  const key = JSON.stringify(parent);
  return selected
    .filter((one) => one.which === which && one.field === field && JSON.stringify(one.parent) === key)
    .map((one) => ({ ...one, parent: [] }));
}

/** The list that a report shows first; undefined where it has none. */
const listOf = (report: Report): List | undefined => report.exhibits.find((exhibit): exhibit is List => exhibit.kind === 'list');

const unknownField = (dataset: Dataset, { scope, where }: Asked): string | undefined =>
  [...Object.keys(scope), ...fieldsOf(where)].find((field) => !findField(dataset, field));

/** How many records a link leads to; with the reason where it leads nowhere. */
async function promised(
  { dataset, data }: AnswerContext,
  target: Report | null,
  carried: Asked,
  { records }: CellFacts,
): Promise<Pick<DrillThrough, 'records' | 'reason'>> {
  if (!target) return { records: 0, reason: 'This report is not there any more, or not published.' };
  if (JSON.stringify(carried.where).length > LONGEST)
    return { records: 0, reason: 'This total stands under too many members to carry them along. Open it, and choose a figure below.' };
  const list = listOf(target);
  const answers = list && isDataExhibit(list) ? (list.dataset ?? target.dataset) : target.dataset;
  if (!list || answers !== dataset.name) return { records, reason: '' };
  const unknown = unknownField(dataset, carried);
  if (unknown) return { records: 0, reason: `${fieldLabel(dataset, unknown)} is not known there.` };
  const fact = factNamed(dataset, list.fact);
  const filter = allOf(askedFilter(carried), list.filter, fact.filter);
  const reason = reasonNotKnown(dataset, fact, filter);
  if (reason) return { records: 0, reason };
  const { sets } = await data.query({ fact: fact.name, filter, levels: [], sets: [[]], aggregates: [] });
  return { records: sets[0].records[0] ?? 0, reason: '' };
}
