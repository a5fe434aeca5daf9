import type { GroupingSetResult, QueryResult } from '../engine/index.ts';
import type { ContextAxis } from './context-axis.ts';
import { MemberPlaces } from './member-places.ts';
import type { FactPart, PlannedContext } from './plan.ts';

/** The groups of an answer with the places they stand at. */
interface PlacedGroups {
  set: GroupingSetResult;
  side: Int32Array;
  top: Int32Array;
  per: Int32Array;
}

/** Figures of one fact part, cell by cell. NaN is "no value"; of texts the place in `texts`. */
interface PartFigures {
  values: Float64Array[];
  texts: (string[] | null)[];
  records: Float64Array;
}

/** All values of one context: cells of its axes, and of the members that an aggregate over members goes through. */
export class ContextCells {
  private readonly figures = new Map<number, PartFigures>();
  /** Places of cells where there are members to go through: few of all that could be. */
  private places: MemberPlaces | null = null;
  /** The members that have records in a cell, where it was asked for them. */
  private readonly membersByCell = new Map<number, readonly number[]>();

  constructor(
    readonly planned: PlannedContext,
    readonly side: ContextAxis,
    readonly top: ContextAxis,
    readonly per: ContextAxis,
    private readonly hasMembers: boolean,
  ) {}

  /** How many numbers the dense figures of some aggregates take. */
  cells(): number {
    return this.places ? this.places.size : this.side.size * this.top.size;
  }

  private cellOf(side: number, top: number): number {
    return side * this.top.size + top;
  }

  /** Takes in the figures of a part. What stands at no place of the axes is left out. */
  fill(index: number, part: FactPart, placed: PlacedGroups[]): void {
    // The axes are whole by now.
    if (this.hasMembers) this.places ??= new MemberPlaces(this.side.size * this.top.size);
    const places = this.placesOf(placed);
    this.membersByCell.clear();
    const size = this.cells();
    const calls = part.query?.aggregates ?? [];
    const own: PartFigures = {
      values: calls.map(() => new Float64Array(size).fill(Number.NaN)),
      texts: calls.map(() => null),
      records: new Float64Array(size),
    };
    let at = 0;
    for (const { set } of placed) {
      const texts = set.values.map((values, aggregate) => (values.type === 'text' ? placeTexts(own, aggregate, values.members) : null));
      for (let group = 0; group < set.size; group++) {
        const place = places[at++];
        // Where there are no records nothing is counted: no value, as for every other aggregate.
        if (place < 0 || set.records[group] === 0) continue;
        own.records[place] = set.records[group];
        own.values.forEach((array, aggregate) => {
          const value = set.values[aggregate].values[group];
          const shift = texts[aggregate];
          array[place] = shift === null ? value : value > 0 ? value - 1 + shift : Number.NaN;
        });
      }
    }
    this.figures.set(index, own);
  }

  /** The place of each group, one answer after the other; -1 for what stands at none. */
  private placesOf(placed: readonly PlacedGroups[]): Int32Array {
    const groups = placed.reduce((sum, { set }) => sum + set.size, 0);
    const [cells, members] = [new Int32Array(groups), new Int32Array(groups)];
    let at = 0;
    for (const { set, side, top, per } of placed)
      for (let group = 0; group < set.size; group++, at++) {
        const isNowhere = side[group] < 0 || top[group] < 0 || per[group] < 0;
        cells[at] = isNowhere ? -1 : this.cellOf(side[group], top[group]);
        members[at] = per[group];
      }
    return this.places?.add(cells, members) ?? cells;
  }

  private placeOf(side: number, top: number, per: number): number {
    if (side < 0 || top < 0 || per < 0) return -1;
    const cell = this.cellOf(side, top);
    if (!this.hasMembers) return cell;
    return this.places?.find(cell, per) ?? -1;
  }

  /** The value of an aggregate; NaN where there is none. */
  value(part: number, aggregate: number, side: number, top: number, per: number): number {
    const place = this.placeOf(side, top, per);
    return place < 0 ? Number.NaN : (this.figures.get(part)?.values[aggregate]?.[place] ?? Number.NaN);
  }

  /** The text that a value stands for; undefined for numbers. */
  text(part: number, aggregate: number, value: number): string | undefined {
    return this.figures.get(part)?.texts[aggregate]?.[value];
  }

  records(part: number, side: number, top: number, per = 0): number {
    const place = this.placeOf(side, top, per);
    return place < 0 ? 0 : (this.figures.get(part)?.records[place] ?? 0);
  }

  /** The members with records in a cell, by their number on the axis that is gone through. */
  membersIn(side: number, top: number): readonly number[] {
    if (!this.places || side < 0 || top < 0) return [];
    const cell = this.cellOf(side, top);
    let members = this.membersByCell.get(cell);
    if (!members) {
      const records = this.planned.perParts.map((part) => this.figures.get(part)?.records);
      members = this.places.membersOf(cell, (place) => records.some((own) => (own?.[place] ?? 0) > 0));
      this.membersByCell.set(cell, members);
    }
    return members;
  }

  get bytes(): number {
    let arrays = 0;
    for (const { values, records } of this.figures.values()) arrays += (values.length + 1) * records.length;
    return arrays * 8 + (this.places?.bytes ?? 0);
  }
}

/** Appends the members of an answer to the texts of an aggregate; returns where they begin. */
function placeTexts(figures: PartFigures, aggregate: number, members: string[]): number {
  const texts = (figures.texts[aggregate] ??= []);
  const start = texts.length;
  for (const member of members) texts.push(member);
  return start;
}

/** The groups of an answer at their places along the axes of a context. */
export function placeAnswer(
  part: FactPart,
  result: QueryResult | null,
  axes: { side: ContextAxis; top: ContextAxis; per: ContextAxis },
  fixed: { side: number | null; top: number | null } = { side: null, top: null },
): PlacedGroups[] {
  return (result?.sets ?? []).map((set, index) => {
    const fields = part.sets[index];
    const isField = (field: string, level: number): boolean => part.query!.levels[level] === field;
    const positionsOf = (own: readonly string[]): number[] => own.map((field) => set.levels.findIndex((level) => isField(field, level)));
    // Periods that are gone through may stand on the axes as well: those of the members come last.
    const positionsGoneThrough = fields.per.map((field) => set.levels.findLastIndex((level) => isField(field, level)));
    const along = (axis: 'side' | 'top'): Int32Array => {
      const at = fixed[axis];
      return at === null ? axes[axis].ofGroups(fields[axis], result!, set, positionsOf(fields[axis])) : new Int32Array(set.size).fill(at);
    };
    return { set, side: along('side'), top: along('top'), per: axes.per.ofGroups(fields.per, result!, set, positionsGoneThrough) };
  });
}
