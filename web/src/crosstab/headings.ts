import type { Header } from '@bold-compass/core/api';
import { parseIsoDate, periodRange } from '@bold-compass/core/calendar';
import { fieldLabel, fieldPlace, fieldPlural, type Crosstab, type Dataset } from '@bold-compass/core/model';
import { SUMMARY_WORDS } from '../report/state-words.ts';
import type { HeadSegment } from './layout.ts';

/** The words of rows and columns. */
export interface Headings {
  row(header: Header): string;
  column(header: Header): string;
  segment(segment: HeadSegment): string;
  /** What the labels of the rows are of. */
  side: string;
  /** The words over each level, where levels are columns. */
  levels: string[];
}

function othersWords({ labels, others }: Header): string {
  return `${labels.at(-1)}${others === undefined ? '' : ` (${others})`}`;
}

/** The words of a cross-tab's headings; `dataTo` is the last day that there is data for, as an ISO 8601 date. */
export function headingsOf(dataset: Dataset, exhibit: Pick<Crosstab, 'side' | 'top'>, dataTo: string): Headings {
  const total = (which: 'side' | 'top'): string => {
    const [field] = exhibit[which].fields;
    return field ? `All ${fieldPlural(dataset, field)}` : 'All';
  };
  /** A total over a period that is not over yet is "to date". */
  const subtotal = (header: Header): string => {
    const member = header.path.at(-1);
    const place = fieldPlace(dataset, exhibit.top.fields[header.depth - 1]);
    const range = place.kind === 'period' && member ? periodRange(place.level.period, member) : undefined;
    return `${header.labels.at(-1) ?? ''} ${range && range.last > parseIsoDate(dataTo)! ? 'to date' : 'total'}`;
  };
  const column = (header: Header): string => {
    if (header.summary) return SUMMARY_WORDS[header.summary];
    if (header.others !== undefined) return othersWords(header);
    if (header.role === 'total') return total('top');
    return header.role === 'subtotal' ? subtotal(header) : (header.labels.at(-1) ?? '');
  };
  const [first] = exhibit.side.fields.map((field) => fieldPlace(dataset, field));
  return {
    row(header) {
      if (header.summary) return SUMMARY_WORDS[header.summary];
      if (header.role === 'total') return total('side');
      return header.role === 'subtotal' ? `${othersWords(header)} total` : othersWords(header);
    },
    column,
    segment: (segment) => (segment.own ? column(segment.sample) : segment.sample.labels[segment.level - 1]),
    side: first ? (first.dimension ?? first).label : '',
    levels: exhibit.side.fields.map((field) => fieldLabel(dataset, field)),
  };
}

/** The header that a heading's toggle opens or closes. */
export function segmentHeader({ own, sample, level }: HeadSegment): Header {
  if (own) return sample;
  return {
    ...sample,
    path: sample.path.slice(0, level),
    labels: sample.labels.slice(0, level),
    depth: level,
    role: 'member',
    open: true,
    canOpen: true,
  };
}

/** Whether a heading has a toggle: totals have none. */
export const canToggle = (segment: HeadSegment): boolean =>
  segmentHeader(segment).canOpen && segment.sample.role !== 'total' && !(segment.own && segment.sample.role === 'subtotal');
