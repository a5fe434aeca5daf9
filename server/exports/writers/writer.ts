import { LOCALE } from '@bold-compass/core/format';
import type { ExportDocument, PaperPage } from '@bold-compass/core/exports';
import type { GatheredPicture } from '../gathered.ts';

/** What a document is written with. */
export interface WriteOptions {
  /** Pictures of the report, by their sources. */
  pictures: Record<string, GatheredPicture>;
  /** From 0 to 1. */
  progress(share: number): void;
}

/** A document as a file. */
export interface Written {
  bytes: Uint8Array;
  /** What is in it, in words: "12 pages". */
  contents: string;
  /** Where things stand on pages, of a format that has some. */
  pages?: PaperPage[];
}

/** Writes a document in some format. */
export type ExportWriter = (document: ExportDocument, options: WriteOptions) => Promise<Written>;

/** A count with its noun: "1 sheet", "1,200 rows". */
export const counted = (count: number, one: string, many: string): string =>
  `${new Intl.NumberFormat(LOCALE).format(count)} ${count === 1 ? one : many}`;

/** What something is called, with the section that it is in. */
export const sectioned = ({ title, section }: { title: string; section: string }): string =>
  section === '' ? title : `${title} · ${section}`;
