import { exhibitSchema, findField, findMeasure, isDataExhibit, type Dataset, type Exhibit, type Report } from '../model/index.ts';
import { promptKindOf } from '../prompts/index.ts';
import { allSections, knownSections, namesInSections } from '../sections/index.ts';
import type { ExhibitNames } from './kind.ts';
import { kindOf } from './registry.ts';

/** The name of a measure without the other aggregation that it has in an exhibit. */
const bareName = (name: string): string => name.replace(/ \([a-z_]+\)$/, '');

/** The fields that a report reads of a dataset: in exhibits and sections that answer from it, and in prompts where it is the report's own. */
export function fieldsReadOf(report: Report, dataset: string): Set<string> {
  const prompts = report.dataset === dataset ? report.prompts.flatMap((prompt) => promptKindOf(prompt).names(prompt).fields) : [];
  const exhibits = report.exhibits.filter((one) => isDataExhibit(one) && (one.dataset ?? report.dataset) === dataset);
  const sections = allSections(report).flatMap((one) => (one.dataset === dataset ? namesInSections(one.sections).fields : []));
  return new Set([...prompts, ...sections, ...exhibits.flatMap((one) => kindOf(one).names(one).fields)]);
}

/** The names that an exhibit reads and that its dataset does not have, each once. */
export function missingNames(exhibit: Exhibit, dataset: Dataset): ExhibitNames {
  const { fields, measures } = kindOf(exhibit).names(exhibit);
  return {
    fields: [...new Set(fields.filter((name) => !findField(dataset, name)))],
    measures: [...new Set(measures.map(bareName).filter((name) => !findMeasure(dataset, name)))],
  };
}

/** A report without the prompts and the sections that read what its dataset does not have: the rest of it can be asked. */
export function askableReport<Own extends Pick<Report, 'prompts' | 'sections' | 'pages'>>(report: Own, dataset: Dataset): Own {
  const prompts = report.prompts.filter((prompt) => {
    const { fields, measures } = promptKindOf(prompt).names(prompt);
    return fields.every((name) => findField(dataset, name)) && measures.every((name) => findMeasure(dataset, name));
  });
  const sections = knownSections(report.sections, dataset);
  const pages = report.pages.map((page) => ({ ...page, sections: knownSections(page.sections, dataset) }));
  const isWhole =
    prompts.length === report.prompts.length &&
    sections === report.sections &&
    pages.every((page, index) => page.sections === report.pages[index].sections);
  return isWhole ? report : { ...report, prompts, sections, pages };
}

/** Settings that hold words, or members: no names of fields or measures. */
const NO_NAMES = new Set(
  'id kind title text note label heading words blank source values value low high members less at path initial before after'.split(' '),
);
/** Settings that say what a part of an exhibit is about: without it the part is nothing. */
const SUBJECTS = ['field', 'measure', 'from', 'to'];

type Change = { to: string } | null;

/** What a part of an exhibit becomes where a name is changed, or removed; undefined where nothing is left of it. */
function changed(part: unknown, name: string, change: Change): unknown {
  if (part === name) return change?.to;
  if (Array.isArray(part)) return part.map((one: unknown) => changed(one, name, change)).filter((one) => one !== undefined);
  if (typeof part !== 'object' || part === null) return part;
  const own = part as Record<string, unknown>;
  if (!change && SUBJECTS.some((subject) => own[subject] === name)) return undefined;
  return Object.fromEntries(
    Object.entries(own).flatMap(([key, value]) => {
      const renamed = key === name ? change?.to : key;
      const kept = NO_NAMES.has(key) ? value : changed(value, name, change);
      return renamed === undefined || kept === undefined ? [] : [[renamed, kept]];
    }),
  );
}

/** A condition with a part that names nothing any more is no condition: it would say something else than it did. */
function withoutBrokenFilter(before: Exhibit, after: unknown, name: string): unknown {
  if (!isDataExhibit(before) || !JSON.stringify(before.filter ?? null).includes(JSON.stringify(name))) return after;
  return { ...(after as object), filter: null };
}

/** An exhibit with a field or measure in the place of another; null where it does not fit there. */
export function withNameReplaced(exhibit: Exhibit, name: string, to: string): Exhibit | null {
  return exhibitSchema.safeParse(changed(exhibit, name, { to })).data ?? null;
}

/** An exhibit without a field or measure; null where nothing is left of it then. */
export function withNameRemoved(exhibit: Exhibit, name: string): Exhibit | null {
  return exhibitSchema.safeParse(withoutBrokenFilter(exhibit, changed(exhibit, name, null), name)).data ?? null;
}
