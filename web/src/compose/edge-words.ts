import type { CellExhibit } from '@bold-compass/core/model';
import type { Edge } from './edges.ts';

/** What the edges of an exhibit are called, and what its measures are added to. */
interface EdgeWords extends Record<Edge, string> {
  cells: string;
  /** The words of the button on the edge, and of the menu of a measure. */
  addMeasure: string;
  addTo: string;
}

const WORDS: Record<CellExhibit['kind'], EdgeWords> = {
  crosstab: {
    side: 'Down the side',
    top: 'Across the top',
    cells: 'In the cells',
    addMeasure: 'Add a measure in the cells',
    addTo: 'Add to cells',
  },
  chart: { side: 'Along the axis', top: 'As series', cells: 'Values', addMeasure: 'Add a measure as value', addTo: 'Add as value' },
};

export const edgeWords = ({ kind }: CellExhibit): EdgeWords => WORDS[kind];
