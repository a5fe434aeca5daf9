import type { Header } from '@bold-compass/core/api';
import { LOCALE, accountText } from '@bold-compass/core/format';
import type { Crosstab } from '@bold-compass/core/model';
import { headLevels, measureSpans, type Headings, type TableMeasure } from '@bold-compass/core/table';
import { computed, type Ref } from 'vue';
import { GROUP_GAP, GrowingRooms, HEAD_ROW_HEIGHT, hidesFigure, roomBeside, UNITS_HEIGHT } from './layout.ts';
import type { Cells } from './windows.ts';

interface Sized {
  exhibit: Ref<Crosstab>;
  cells: Ref<Cells>;
  measures: Ref<TableMeasure[]>;
  headings: Ref<Headings>;
  /** Whether measures stand one below the other. */
  stacked: Ref<boolean>;
  /** Levels of the side that some member stands open to. */
  depth: Ref<number>;
  /** A width, in pixels, that was drawn for `label` or a measure's position, while it is drawn or as kept. */
  ownWidth(what: string): number | undefined;
  /** A page as narrow as a phone's. */
  narrow: boolean;
}

/** Characters of a text that its column makes room for. */
const LONGEST_TEXT = 30;
/** How wide a letter of a heading is, and what stands beside the words over measures, in pixels. */
const [LETTER, SPAN_ROOM] = [6.6, 14];
/** Rows looked at for the longest label. */
const LOOKED_AT = 400;

/** How wide and high the parts of a cross-tab are, in pixels. */
export function useSizes({ exhibit, cells, measures, headings, stacked, depth, ownWidth, narrow }: Sized) {
  const indent = narrow ? 12 : 19;
  const rooms = new GrowingRooms();
  const longest = (length: (header: Header) => number, least: number): number =>
    cells.value.rows.slice(0, LOOKED_AT).reduce((most, header) => Math.max(most, header ? length(header) : 0), least);

  const fitted = computed(() =>
    rooms.fit(
      measures.value.map(({ format }, index) => {
        const { least, most, longest } = cells.value.extremes[index] ?? { least: Infinity, most: -Infinity, longest: '' };
        const figures = [least, most].map((value) => (Number.isFinite(value) ? accountText(value, format, LOCALE) : ''));
        return hidesFigure(exhibit.value.cells[index]) ? [] : [...figures, longest.slice(0, LONGEST_TEXT)];
      }),
      measures.value.map((measure) => (stacked.value ? '' : measure.heading)),
      exhibit.value.cells.map(roomBeside),
    ),
  );
  /** Headings over measures beside each other. */
  const spans = computed(() => (stacked.value ? [] : measureSpans(measures.value)));
  const measureWidths = computed(() => {
    const own = fitted.value.map(({ width }, index) => ownWidth(String(index)) ?? width);
    if (stacked.value) return [Math.max(...own)];
    // The first measure below a heading over several makes room for its words.
    for (const { words, from, count } of spans.value) {
      const together = own.slice(from, from + count).reduce((sum, width) => sum + width, 0);
      if (ownWidth(String(from)) === undefined) own[from] += Math.max(0, Math.ceil(words.length * LETTER) + SPAN_ROOM - together);
    }
    return own;
  });
  /** What each measure needs to know of its room: what its figures take, and whether longer texts have to be cut. */
  const figureRooms = computed(() =>
    fitted.value.map(({ figure }, index) => ({
      figure,
      isTight: ownWidth(String(index)) !== undefined || measures.value[index].type !== 'number',
    })),
  );
  const columnWidth = computed(() => {
    const own = measureWidths.value.reduce((sum, width) => sum + width, 0);
    const isDrawn = measures.value.some((_, index) => ownWidth(String(index)) !== undefined);
    const heading = cells.value.columns.reduce(
      (most, header) => Math.max(most, header && !isDrawn ? headings.value.column(header).length * 7.4 + (header.canOpen ? 34 : 14) : 0),
      0,
    );
    return Math.max(own, heading, isDrawn ? 30 : 70) + GROUP_GAP;
  });
  /** Room that a long heading adds is given to the first measure. */
  const measureOffsets = computed(() => {
    const spare = columnWidth.value - GROUP_GAP - measureWidths.value.reduce((sum, width) => sum + width, 0);
    let at = 0;
    return measureWidths.value.map((width, index) => {
      const own = width + (index === 0 ? spare : 0);
      const place = { left: at, width: own };
      at += own;
      return place;
    });
  });
  /** Levels as columns of their own, as far as they are open: where each begins and how wide it is; null where they are a tree. */
  const levelColumns = computed(() => {
    const { layout, fields } = exhibit.value.side;
    if (layout !== 'columns' || fields.length === 0) return null;
    let at = 0;
    return headings.value.levels.slice(0, depth.value).map((heading, level) => {
      const most = longest(
        ({ labels, role, depth }) => (labels[level] ?? '').length + (role === 'subtotal' && depth === level + 1 ? 6 : 0),
        heading.length,
      );
      const width = Math.min(narrow ? 120 : 240, Math.ceil(most * 7) + 40);
      const place = { heading, left: at, width };
      at += width;
      return place;
    });
  });
  const headingWidth = computed(() =>
    stacked.value
      ? Math.ceil(Math.max(...measures.value.map(({ heading, unit }) => heading.length + (unit ? unit.length + 2 : 0))) * 6.4) + 16
      : 0,
  );
  const labelWidth = computed(() => {
    const drawn = ownWidth('label');
    if (drawn) return drawn;
    if (levelColumns.value) return levelColumns.value.reduce((sum, { width }) => sum + width, 0);
    const most = longest((header) => headings.value.row(header).length * 7 + Math.max(0, header.depth - 1) * indent, 60);
    return Math.min(narrow ? 148 : 330, Math.ceil(most) + 46);
  });
  const sideWidth = computed(() => labelWidth.value + headingWidth.value);
  const levels = computed(() => headLevels(cells.value.columns));
  /** Units stand below the headings of measures. */
  const measuresHeight = computed(
    () => HEAD_ROW_HEIGHT + (!stacked.value && measures.value.some(({ unit }) => unit !== '') ? UNITS_HEIGHT : 0),
  );
  const headRows = computed(() => (exhibit.value.top.fields.length > 0 ? levels.value : 0) + (spans.value.length > 0 ? 1 : 0));
  const headHeight = computed(() => headRows.value * HEAD_ROW_HEIGHT + measuresHeight.value);
  const totalWidth = computed(() => sideWidth.value + cells.value.columnCount * columnWidth.value - GROUP_GAP);
  /** The left edge of a column. */
  const left = (column: number): number => sideWidth.value + column * columnWidth.value;

  return {
    indent,
    measureWidths,
    figureRooms,
    columnWidth,
    measureOffsets,
    levelColumns,
    headingWidth,
    labelWidth,
    sideWidth,
    levels,
    headHeight,
    headRows,
    spans,
    measuresHeight,
    totalWidth,
    left,
  };
}

export type Sizes = ReturnType<typeof useSizes>;
