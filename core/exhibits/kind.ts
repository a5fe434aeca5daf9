import type { Dataset, Exhibit, ExhibitLink } from '../model/index.ts';
import type { Swap } from '../prompts/index.ts';

/** The names that an exhibit reads. */
export interface ExhibitNames {
  fields: string[];
  measures: string[];
}

/** What a new exhibit is made for. */
export interface NewExhibit {
  id: string;
  page: string | undefined;
  /** The dataset it answers from. */
  dataset: Dataset;
  /** The name of that dataset, where it is not the report's own. */
  otherDataset: string | undefined;
}

/**
 * A kind of exhibit. With its schema in the model and its record in the interface, this is all there is to it: nothing else
 * tells kinds apart.
 */
export interface ExhibitKind<Own extends Exhibit> {
  kind: Own['kind'];
  /** The noun for it: "Cross-tab". */
  label: string;
  /** The usual id of a new one, without its number. */
  id: string;
  /** Whether it is numbered, as tables and figures of a printed report are. */
  isNumbered: boolean;
  /** Fields and measures that it reads; nothing where it answers from no data. */
  names(exhibit: Own): ExhibitNames;
  /** What cannot be calculated though every name is there, in words. */
  faults?(exhibit: Own, dataset: Dataset): string[];
  /** Fields along its axes, where readers point at members by paths. */
  axes?(exhibit: Own): string[][];
  /** Its links. */
  links?(exhibit: Own): ExhibitLink[];
  /** Its texts that may hold values in braces. */
  texts(exhibit: Own): string[];
  /** The same with another source for each asset that it shows. */
  withAssets?(own: Own, other: (source: string) => Promise<string>): Promise<Own>;
  /** What a small picture of it shows, where that follows from the exhibit alone. */
  glance?(exhibit: Own): { text?: string; picture?: string };
  /** What changed, in sentences that begin with its name, and the settings that these sentences are about. */
  changes?(name: string, before: Own, after: Own, dataset: Dataset | undefined): { sentences: string[]; settings: string[] };
  /** The same with other names in the place of some, as a reader chose. */
  swapped?(own: Own, swap: Swap, dataset: Dataset): Own;
  /** The same in a section; `left` gives the levels of some fields that still say something there. */
  inSection?(own: Own, left: (fields: readonly string[]) => string[]): Own;
  /** A new one as it is first seen; null where the dataset has nothing to show in it. */
  create(made: NewExhibit): Own | null;
}
