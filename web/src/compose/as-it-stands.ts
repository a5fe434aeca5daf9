import { initialReaderScope, promptTitle, promptWords, startingWith, type PromptWording } from '@bold-compass/core/prompts';
import { isCellExhibit, type CellExhibit, type List, type Prompt, type ReaderScope, type Report } from '@bold-compass/core/model';
import type { LocationQuery } from 'vue-router';
import { orderIn } from '../list/order.ts';
import { readCrosstabState } from '../report/url-state.ts';

type Chosen = Pick<ReaderScope, 'scope' | 'choices'>;

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Whether something else is chosen in a prompt now than readers begin with. */
function isChosenOtherwise(report: Report, prompt: Prompt, now: Chosen): boolean {
  const first = initialReaderScope(report);
  if (prompt.kind === 'members' && prompt.fields.some((field) => !isSame(first.scope[field] ?? [], now.scope[field] ?? []))) return true;
  return !isSame(first.choices[prompt.id] ?? [], now.choices[prompt.id] ?? first.choices[prompt.id] ?? []);
}

/** A list in the order that it is shown in now. */
function listAsItStands(list: List, query: LocationQuery): List {
  const words = [query[`${list.id}.order`] ?? []].flat().filter((word) => word !== null);
  const order = orderIn(words, list);
  return isSame(order, list.order) ? list : { ...list, order };
}

/** A cross-tab or a chart that is ordered and opened for its readers as it is now. */
function cellsAsTheyStand(exhibit: CellExhibit, query: LocationQuery): CellExhibit {
  const state = readCrosstabState(exhibit, query);
  const axis = (which: 'side' | 'top'): CellExhibit['side'] => {
    const own = exhibit[which];
    const { open, order, hideEmpty } = state[which];
    // An order of the whole axis comes before those of its levels.
    const levels = order
      ? Object.fromEntries(Object.entries(own.levels).map(([field, level]) => [field, { ...level, order: undefined }]))
      : own.levels;
    // What single members stand open is said by no setting.
    const openLevels = open.exceptions.length === 0 ? open.depth : own.openLevels;
    const next = { ...own, levels, openLevels, hideEmpty, order: order ?? own.order };
    return order === null && openLevels === own.openLevels && hideEmpty === own.hideEmpty ? own : next;
  };
  const [side, top] = [axis('side'), axis('top')];
  return side === exhibit.side && top === exhibit.top ? exhibit : { ...exhibit, side, top };
}

/** A report that its readers meet as it stands now: with what is chosen in its prompts, and as its tables are ordered and opened. */
export function asItStands(report: Report, now: Chosen, query: LocationQuery): Report {
  return {
    ...report,
    prompts: report.prompts.map((prompt) => (isChosenOtherwise(report, prompt, now) ? startingWith(prompt, now) : prompt)),
    exhibits: report.exhibits.map((exhibit) => {
      if (isCellExhibit(exhibit)) return cellsAsTheyStand(exhibit, query);
      return exhibit.kind === 'list' ? listAsItStands(exhibit, query) : exhibit;
    }),
  };
}

/** What readers would begin with that they do not begin with yet, in words; empty where it is the same. */
export function standsOtherwise(report: Report, now: Chosen, query: LocationQuery, wording: PromptWording): string[] {
  const next = asItStands(report, now, query);
  const prompts = report.prompts
    .filter((prompt, index) => !isSame(prompt, next.prompts[index]))
    .map((prompt) => `${promptTitle(prompt, wording.dataset)}: ${promptWords(prompt, now, wording)}`);
  const tables = report.exhibits.flatMap((exhibit, index) =>
    'title' in exhibit && !isSame(exhibit, next.exhibits[index])
      ? [`${exhibit.title}: as it is ordered${exhibit.kind === 'list' ? '' : ' and opened'}`]
      : [],
  );
  return [...prompts, ...tables];
}
