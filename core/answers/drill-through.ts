import type { ExplainRequest, Explanation } from '../api/index.ts';
import { isCombined, pathCondition, reasonNotKnown, type SelectedMembers } from '../crosstab/index.ts';
import {
  allOf,
  factNamed,
  fieldsOf,
  findField,
  isAtFigures,
  isAtLabel,
  isDataExhibit,
  linkKind,
  measureNamed,
  type Crosstab,
  type Dataset,
  type Drill,
  type Filter,
  type List,
  type Report,
  type Scope,
} from '../model/index.ts';
import { dataDays, type AnswerContext } from './context.ts';
import type { KeptMembers } from './crosstab-window.ts';
import { carriedAlong, conditionsFor, filledAddress, openedByLink } from '../prompts/index.ts';
import { askedFilter, askedIn, type Asked } from './scope.ts';

/** A cell of a cross-tab: its members on both axes, and its measure. */
export type CellPlace = Pick<ExplainRequest, 'side' | 'top' | 'measure' | 'viewState'>;
type DrillThrough = Explanation['drills'][number];

/** What is known of the cell beside its place. */
interface CellFacts {
  selected: SelectedMembers[];
  kept: KeptMembers[];
  /** Records of the first fact behind it. */
  records: number;
  value: number | null;
}

/** Longest conditions, as characters of JSON, that an address carries. */
const LONGEST = 6_000;

/**
 * Where a cell, or the label of a row or a column, leads: its links, with the conditions of the place and the number of records that the
 * list in the other report shows under them.
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
  const isAt = (drill: Drill, axis: 'side' | 'top', across: 'side' | 'top'): boolean =>
    place[across].length === 0 && isAtLabel(drill, axis, exhibit[axis].fields, place[axis].length);
  const links = exhibit.drills.filter((drill) => isAtFigures(drill, measure) || isAt(drill, 'side', 'top') || isAt(drill, 'top', 'side'));
  return Promise.all(links.map((link) => drillThrough(context, link, measure, carried, facts)));
}

async function drillThrough(context: AnswerContext, link: Drill, measure: string, carried: Asked, facts: CellFacts): Promise<DrillThrough> {
  const { label, opens = 'here', report = '', page, from = 'cells' } = link;
  const to = linkKind(link) ?? 'records';
  const base = { label, to, opens, from, report, ...(page === undefined ? {} : { page }), ...carried, records: facts.records, reason: '' };
  if (to === 'address') {
    const address = filledAddress(link.address!, addressValues(context.dataset, measure, carried, facts));
    return address === null ? { ...base, reason: 'Its web address cannot be opened.' } : { ...base, address };
  }
  if (to !== 'report') return base;
  const target = await context.report(report);
  const other = target && target.dataset !== context.dataset.name ? ((await context.datasetOf?.(target.dataset)) ?? null) : null;
  const along = carriedAlong(link, carried, context.dataset, other);
  return { ...base, ...along, ...(await promised(context, target, page, other, along, facts)) };
}

/** The values that web addresses may hold: members by their fields, several joined by commas; the measure, and its value. */
function addressValues(dataset: Dataset, measure: string, { scope }: Asked, { value }: CellFacts): Map<string, string> {
  const values = new Map(Object.entries(scope).map(([field, members]) => [field, members.join(',')]));
  values.set('measure', measureNamed(dataset, measure).label);
  values.set('value', value === null ? '' : String(value));
  return values;
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

/** The list on the page that a link opens; undefined where it has none. */
function listOn(report: Report, page: string | undefined): List | undefined {
  const first = report.pages[0]?.id;
  const opened = report.pages.some(({ id }) => id === page) ? page : first;
  return report.exhibits.find((one): one is List => one.kind === 'list' && (opened === undefined || (one.page ?? first) === opened));
}

const unknownField = (dataset: Dataset, { scope, where }: Asked): string | undefined =>
  [...Object.keys(scope), ...fieldsOf(where)].find((field) => !findField(dataset, field));

/** How many records a link leads to; with the reason where it leads nowhere. */
async function promised(
  { dataset, data }: AnswerContext,
  target: Report | null,
  page: string | undefined,
  /** Its dataset, where that is another one. */
  other: Dataset | null,
  carried: Asked,
  { records }: CellFacts,
): Promise<Pick<DrillThrough, 'records' | 'reason'>> {
  if (!target) return { records: 0, reason: 'This report is not there any more, or not published.' };
  if (JSON.stringify(carried.where).length > LONGEST)
    return { records: 0, reason: 'This total stands under too many members to carry them along. Open it, and choose a figure below.' };
  const list = listOn(target, page);
  const answers = list && isDataExhibit(list) ? (list.dataset ?? target.dataset) : target.dataset;
  const unknown = unknownField(other ?? dataset, carried);
  if (unknown) return { records: 0, reason: `${findField(dataset, unknown)?.label ?? unknown} is not known there.` };
  if (!list || answers !== dataset.name) return { records, reason: '' };
  const fact = factNamed(dataset, list.fact);
  // Asked as the report will ask it: some of its prompts are about other exhibits.
  const opened = conditionsFor(
    target,
    { ...carried, choices: openedByLink(target) },
    { dataset: other ?? dataset, days: dataDays(data) },
    list,
  );
  const asked = other ? askedIn(dataset, opened) : opened;
  const filter = allOf(askedFilter(asked), list.filter, fact.filter);
  const reason = reasonNotKnown(dataset, fact, filter);
  if (reason) return { records: 0, reason };
  const { sets } = await data.query({ fact: fact.name, filter, levels: [], sets: [[]], aggregates: [] });
  return { records: sets[0].records[0] ?? 0, reason: '' };
}
