import type { SectionsResponse } from '@bold-compass/core/api';
import type { ExportRequest } from '@bold-compass/core/exports';
import type { Dataset, ReaderScope, Report, Sections } from '@bold-compass/core/model';
import { allTogether, chosenSections, knownSections, sectionKey, withSection, withWhole } from '@bold-compass/core/sections';
import type { Caller } from '../people/index.ts';
import type { ReportReader } from '../reports/index.ts';

/** What an export holds of something that is repeated: a section, or all of it where nothing is. */
export interface ExportedSection {
  /** Empty where it is in no section. */
  label: string;
  asked: ReaderScope;
  isEmpty: boolean;
  /** Whether all members together are a section among others. */
  isWhole: boolean;
}

/** What is repeated: a page, or an exhibit within what is asked. */
export interface RepeatedPart {
  sections: Sections | undefined;
  dataset: Dataset;
  page?: string;
  exhibit?: string;
}

/** The sections of a page or an exhibit that an export holds, in their order, as its person may see them. */
export async function exportedSections(
  reports: ReportReader,
  caller: Caller,
  request: Pick<ExportRequest, 'report' | 'sections' | 'draft'>,
  report: Report,
  asked: ReaderScope,
  part: RepeatedPart,
  signal: AbortSignal,
): Promise<ExportedSection[]> {
  const { page, exhibit, dataset } = part;
  const sections = knownSections(part.sections, dataset);
  // What is not repeated is in no section, whichever is open elsewhere.
  if (!sections) return [{ label: '', asked: withSection(asked, null, exhibit), isEmpty: false, isWhole: false }];
  const place = exhibit === undefined ? { page } : { exhibit };
  const answer = await reports.sections(caller, report.id, { ...asked, draft: request.draft }, place, signal);
  const { sections: found } = (await answer.read()) as SectionsResponse;
  const { field } = sections;
  const all = { label: allTogether(dataset, sections), asked: withSection(asked, null, exhibit), isEmpty: false, isWhole: true };
  if (request.sections === 'open') {
    const open = asked.choices[sectionKey(exhibit)] && chosenSections(asked.choices, exhibit).at(-1);
    if (!open || open.field !== field) return [{ ...all, isWhole: false }];
    const { label = '', records = 0 } = found.find(({ member }) => member === open.member) ?? {};
    return [{ label, asked, isEmpty: records === 0, isWhole: false }];
  }
  const members = found.map(({ member, label, records }) => ({
    ...{ label, isEmpty: records === 0, isWhole: false },
    asked: withSection(asked, { field, member }, exhibit),
  }));
  return withWhole(sections, members, all);
}
