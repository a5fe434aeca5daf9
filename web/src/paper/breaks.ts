import type { PrintedPages } from '@bold-compass/core/exports';
import type { Exhibit, Report } from '@bold-compass/core/model';

type Pages = PrintedPages['pages'];

/** Where a page ends and the next one begins. */
export interface PageBreak {
  /** The page that ends, from 0. */
  page: number;
  /** The exhibit that the next page begins with, or goes on with. */
  exhibit: string;
  /** The page or section of the report that begins there; null where one goes on. */
  begins: string | null;
  /** Whether that goes on from the page before. */
  continues: boolean;
  /** Whether it was put there. */
  isSet: boolean;
}

/** The breaks between pages, with what each is for. */
export function breaksOf(pages: Pages, exhibits: readonly Exhibit[]): PageBreak[] {
  return pages.flatMap(({ parts, begins }, index): PageBreak[] => {
    const first = [...parts].sort((a, b) => a.top - b.top)[0];
    if (index === 0 || !first) return [];
    const exhibit = exhibits.find(({ id }) => id === first.exhibit);
    if (!exhibit) return [];
    const isSet = begins === null && !first.continues && exhibit.startsPage === true;
    return [{ page: index - 1, exhibit: exhibit.id, begins, continues: first.continues, isSet }];
  });
}

/** Where on a page a break can be moved to: above what begins there, but at its top, from the top down. */
export function placesOn({ parts }: Pages[number]): { exhibit: string; top: number }[] {
  const tops = parts.map(({ top }) => top);
  const highest = Math.min(...tops);
  const begins = parts.filter(({ continues, top }) => !continues && top > highest + 1);
  // Of what stands beside each other the first one begins the page.
  return begins
    .filter((part, index) => begins.findIndex((other) => Math.abs(other.top - part.top) < 1) === index)
    .map(({ exhibit, top }) => ({ exhibit, top }))
    .sort((a, b) => a.top - b.top);
}

/** A report in which a page begins with an exhibit, or does not. */
export const withBreak = (report: Report, exhibit: string, startsPage: boolean): Report => ({
  ...report,
  exhibits: report.exhibits.map((one) => (one.id === exhibit ? { ...one, startsPage: startsPage || undefined } : one)),
});

/** A break that is put at another place: where it was set before it is no more. */
export function movedBreak(report: Report, from: PageBreak, to: string): Report {
  const without = from.isSet ? withBreak(report, from.exhibit, false) : report;
  return withBreak(without, to, true);
}
