import { parsePathKey, pathKey } from '@bold-compass/core/crosstab';
import {
  SECTION_LAYOUTS,
  type Choices,
  type ReaderScope,
  type Report,
  type SectionLayout,
  type SectionScales,
  type Sections,
} from '@bold-compass/core/model';
import { askedInSections, sectionChoice, sectionKey, sectionsOfExhibit, withSection, type Section } from '@bold-compass/core/sections';
import type { LocationQuery, LocationQueryRaw } from 'vue-router';

/** The section of a page, or of an exhibit with sections of its own, as the address names it; and how they are laid out. */

/** All members together, as a section of their own. */
export const WHOLE = 'whole';
/** A section that can be open: a member, or all together. */
export type OpenSection = Section | typeof WHOLE;

const EVERY = '*';
const layoutKey = (exhibit?: string): string => `${exhibit ?? 'report'}.sections`;
const text = (query: LocationQuery, key: string): string | undefined => [query[key] ?? []].flat().find((one) => one !== null) ?? undefined;

/** The section that the address names; undefined where it names none. */
export function readSection(query: LocationQuery, { field }: Sections, exhibit?: string): OpenSection | undefined {
  const key = text(query, sectionKey(exhibit));
  if (key === undefined) return undefined;
  return key === EVERY ? WHOLE : { field, member: parsePathKey(key)[0] ?? null };
}

export const sectionQuery = (section: OpenSection | undefined, exhibit?: string): LocationQueryRaw => ({
  [sectionKey(exhibit)]: section === undefined ? undefined : section === WHOLE ? EVERY : pathKey([section.member]),
});

/** How sections are laid out: as the reader chose, where they may, else as the report says. */
export function readLayout(query: LocationQuery, { layout, readersChoose }: Sections, exhibit?: string): SectionLayout {
  const asked = text(query, layoutKey(exhibit));
  return (readersChoose ? SECTION_LAYOUTS.find((one) => one === asked) : undefined) ?? layout;
}

export const layoutQuery = (layout: SectionLayout, exhibit?: string): LocationQueryRaw => ({ [layoutKey(exhibit)]: layout });

const scalesKey = (exhibit?: string): string => `${exhibit ?? 'report'}.scales`;
/** Whether charts have their scales in common with those of other sections: as the reader chose, else as the report says. */
export function readScales(query: LocationQuery, { scales }: Sections, exhibit?: string): SectionScales {
  const asked = text(query, scalesKey(exhibit));
  return asked === 'own' || asked === 'common' ? asked : scales;
}
export const scalesQuery = (scales: SectionScales, exhibit?: string): LocationQueryRaw => ({ [scalesKey(exhibit)]: scales });

/** The sections of exhibits that have some of their own, as the address names them. */
export function readExhibitSections({ exhibits }: Report, query: LocationQuery): Choices {
  return Object.fromEntries(
    exhibits.flatMap((exhibit): [string, string[]][] => {
      const sections = sectionsOfExhibit(exhibit);
      const named = sections && readSection(query, sections, exhibit.id);
      return named && named !== WHOLE ? [[sectionKey(exhibit.id), sectionChoice(named)]] : [];
    }),
  );
}

/** What is asked, in a section that is open; of all together where there is none. */
export const askedInSection = <Asked extends { choices: Choices }>(
  asked: Asked,
  section: OpenSection | undefined,
  exhibit?: string,
): Asked => withSection(asked, section === undefined || section === WHOLE ? null : section, exhibit);

/** The same while it is composed: exhibits stand as they are written, with every level, over the records of the section. */
export const askedAsWritten = (asked: ReaderScope, section: OpenSection | undefined): ReaderScope =>
  section === undefined || section === WHOLE ? asked : { ...asked, ...askedInSections(asked, [section]) };

export const isSameSection = (one: OpenSection | undefined, other: OpenSection | undefined): boolean =>
  JSON.stringify(one) === JSON.stringify(other);
