import type { CommonScale } from '@bold-compass/core/api';
import type { ExportDocument } from '@bold-compass/core/exports';
import type { DataExhibit, Dataset, Exhibit } from '@bold-compass/core/model';

/** What an exhibit shows, with the answers that it is drawn from. */
export interface GatheredExhibit {
  /** As its reader has it. */
  exhibit: DataExhibit;
  title: string;
  /** The section that it is in; empty where it is in none. */
  section: string;
  note: string;
  number: number;
  dataset: Dataset;
  /** Last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
  /** Answers for its lines, in their order. */
  answers: unknown[];
  state: unknown;
  /** Between which values a chart lies in all sections, where these have their scales in common. */
  beyond?: CommonScale;
}

/** What stands on a page: an exhibit with its answers; one without data, its texts filled in; or why one could not be calculated. */
export type GatheredPart =
  | ({ kind: 'data' } & GatheredExhibit)
  | { kind: 'plain'; exhibit: Exclude<Exhibit, DataExhibit> }
  | { kind: 'failed'; id: string; width: number; startsPage?: boolean; title: string; problem: string };

/** A picture of a report. */
export interface GatheredPicture {
  type: string;
  bytes: Uint8Array;
}

/** A report with everything that an export is written from: nothing of it is asked for again. */
export interface GatheredReport extends Omit<ExportDocument, 'pages'> {
  pages: { title: string; parts: GatheredPart[] }[];
  /** Pictures and shapes of maps, by their sources. */
  pictures: Record<string, GatheredPicture>;
}
