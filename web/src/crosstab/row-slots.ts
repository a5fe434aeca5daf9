/** A row that is drawn, and the elements it is drawn in. */
interface SlottedRow {
  slot: number;
  index: number;
}

/**
 * Hands the elements of rows that went out of view to those that come in: elements that take other texts cost a
 * fraction of elements that are made. While rows are scrolled, elements stay where they are in the document and only
 * stand elsewhere on the screen; once it is `settled`, they stand in reading order again.
 */
export class RowSlots {
  private count = 0;
  private order: number[] = [];

  /** Neighbouring rows in their order, each with its elements, in the order of the document. */
  place(indexes: readonly number[], settled: boolean): SlottedRow[] {
    if (indexes.length > this.count) {
      this.count = indexes.length;
      this.order = [];
    }
    const rowIn = new Map(indexes.map((index) => [index % this.count, index]));
    const kept = settled ? [] : this.order.filter((slot) => rowIn.has(slot));
    const placed = new Set(kept);
    this.order = [...kept, ...[...rowIn.keys()].filter((slot) => !placed.has(slot))];
    return this.order.map((slot) => ({ slot, index: rowIn.get(slot)! }));
  }
}
