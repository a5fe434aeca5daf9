import type { Header } from '../api/index.ts';
import { parseIsoDate, periodRange } from '../calendar/index.ts';
import { fieldLabel, fieldPlace, fieldPlural, type Crosstab, type Dataset, type Summary } from '../model/index.ts';
import type { HeadSegment } from './column-headings.ts';

export const SUMMARY_WORDS: Record<Summary, string> = {
  average: 'Average',
  sum: 'Sum',
  count: 'Count',
  smallest: 'Minimum',
  largest: 'Maximum',
  median: 'Median',
  deviation: 'Standard deviation',
};

/** What a line, or a total, is called that summarises figures that are shown. */
export const summaryWords = (summary: Summary, of: 'rows' | 'columns' | 'figures'): string => `${SUMMARY_WORDS[summary]} of visible ${of}`;

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
    if (header.summary) return summaryWords(header.summary, 'columns');
    if (header.others !== undefined) return othersWords(header);
    if (header.role === 'total') return total('top');
    return header.role === 'subtotal' ? subtotal(header) : (header.labels.at(-1) ?? '');
  };
  const [first] = exhibit.side.fields.map((field) => fieldPlace(dataset, field));
  return {
    row(header) {
      if (header.summary) return summaryWords(header.summary, 'rows');
      if (header.role === 'total') return total('side');
      return header.role === 'subtotal' ? `${othersWords(header)} total` : othersWords(header);
    },
    column,
    segment: (segment) => (segment.own ? column(segment.sample) : segment.sample.labels[segment.level - 1]),
    side: first ? (first.dimension ?? first).label : '',
    levels: exhibit.side.fields.map((field) => fieldLabel(dataset, field)),
  };
}

/** A depth to which an axis can be opened at once. */
export interface OpenStep {
  label: string;
  /** Levels that stand open: 0 shows the outermost level only. */
  depth: number;
}

/** The depths that an axis can be opened to, by the words of its levels; a parent–child tree opens as a whole. */
export function openSteps(dataset: Dataset, fields: readonly string[]): OpenStep[] {
  const places = fields.map((field) => fieldPlace(dataset, field));
  return places.flatMap((place, depth): OpenStep[] => {
    const tree = place.kind === 'level' && place.dimension.tree ? place.dimension : null;
    if (!tree) return [{ label: place.label.toLowerCase(), depth }];
    const [previous, next] = [places[depth - 1], places[depth + 1]];
    const isTop = depth === 0 && previous === undefined;
    const isLast = next?.dimension?.name !== tree.name;
    if (isLast) return [{ label: tree.label.toLowerCase(), depth }];
    return isTop ? [{ label: 'top level', depth }] : [];
  });
}
