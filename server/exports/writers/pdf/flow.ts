import type { Ink } from './ink.ts';

/** Where blocks are laid, in points. */
export interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A part of a block that stands on one page. */
export interface Piece {
  height: number;
  draw(ink: Ink, x: number, y: number): void;
}

/** What follows what is above it on a page. */
export interface Block {
  /** Columns of the grid of twelve. */
  width: number;
  /** What an outline calls it; empty for what it does not name. */
  title: string;
  /** The exhibit that it is of. */
  exhibit?: string;
  /**
   * Its pieces at a width, each on a page of its own, where the first has room for `first` and others for `next`. The first is
   * higher than `first` where nothing of it fits there.
   */
  layout(width: number, room: { first: number; next: number }): Piece[];
}

/** A piece where it is drawn. */
export interface Placed {
  piece: Piece;
  x: number;
  y: number;
  /** What an outline calls what begins here. */
  title: string;
  exhibit: string | undefined;
  /** Whether it goes on from a page before. */
  continues: boolean;
}

const [COLUMNS, GUTTER, GAP] = [12, 18, 16];

/** Blocks in rows of the grid, as they stand on a page. */
function rowsOf(blocks: readonly Block[]): Block[][] {
  const rows: Block[][] = [];
  let used = COLUMNS;
  for (const block of blocks) {
    if (used + block.width > COLUMNS) {
      rows.push([]);
      used = 0;
    }
    rows.at(-1)!.push(block);
    used += block.width;
  }
  return rows;
}

/** Lays blocks on pages: those beside each other stay so where all of them fit on a page, else they follow each other. */
export class Flow {
  readonly pages: Placed[][] = [];
  /** The lowest place that is taken on the last page. */
  private y = 0;

  /** `first` is how much is taken at the top of the first page of each turn. */
  constructor(private readonly frame: Frame) {}

  private get room(): number {
    return this.frame.y + this.frame.height - this.y;
  }

  newPage(): void {
    this.pages.push([]);
    this.y = this.frame.y;
  }

  private get isEmpty(): boolean {
    return this.pages.at(-1)?.length === 0;
  }

  /** Lays blocks below what is there. */
  add(blocks: readonly Block[]): void {
    if (this.pages.length === 0) this.newPage();
    for (const row of rowsOf(blocks)) this.addRow(row);
  }

  private addRow(row: Block[]): void {
    const { width, height, x } = this.frame;
    if (row.length > 1) {
      const unit = (width + GUTTER) / COLUMNS;
      const laidIn = (room: number): { laid: Piece[][]; high: number } | null => {
        const laid = row.map((block) => block.layout(block.width * unit - GUTTER, { first: room, next: height }));
        const high = Math.max(...laid.map(([piece]) => piece?.height ?? 0));
        return laid.every((pieces) => pieces.length <= 1) && high <= room ? { laid, high } : null;
      };
      const here = this.isEmpty ? null : laidIn(this.room);
      const whole = here ?? laidIn(height);
      if (whole) {
        if (!here && !this.isEmpty) this.newPage();
        let at = x;
        row.forEach((block, index) => {
          for (const piece of whole.laid[index]) this.put(piece, at, block);
          at += block.width * unit;
        });
        this.y += whole.high + GAP;
        return;
      }
    }
    for (const block of row) this.addAlone(block);
  }

  private addAlone(block: Block): void {
    const { width, height, x } = this.frame;
    const { width: columns } = block;
    const unit = (width + GUTTER) / COLUMNS;
    // What is narrow stays so, unless there is too little room for it.
    const own = columns >= COLUMNS / 2 && columns < COLUMNS ? columns * unit - GUTTER : width;
    let pieces = block.layout(own, { first: this.room, next: height });
    if ((pieces[0]?.height ?? 0) > this.room + 0.5 && !this.isEmpty) {
      this.newPage();
      pieces = block.layout(own, { first: height, next: height });
    }
    pieces.forEach((piece, index) => {
      if (index > 0) this.newPage();
      this.put(piece, x, block, index > 0);
      this.y += piece.height + GAP;
    });
  }

  private put(piece: Piece, x: number, { title, exhibit }: Block, continues = false): void {
    this.pages.at(-1)!.push({ piece, x, y: this.y, title: continues ? '' : title, exhibit, continues });
  }
}
