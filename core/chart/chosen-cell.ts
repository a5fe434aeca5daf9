import type { Path } from '../api/index.ts';

/** A figure that a reader points at: its members down the side and across the top, and its measure. */
export interface ChosenCell {
  side: Path;
  top: Path;
  measure: string;
  /** The field whose members are along the side, of exhibits that look through several. */
  along?: string;
}
