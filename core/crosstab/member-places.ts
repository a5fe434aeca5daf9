/**
 * Where the figures of members that are gone through stand: few of all places that cells and members could make. Members of a cell
 * lie beside each other in their order, so that one is found by halving, and all of them without looking for any.
 */
export class MemberPlaces {
  /** How many places there are. */
  size = 0;
  /** Where the members of each cell begin, and end. */
  private starts: Int32Array;
  private members: Int32Array = new Int32Array(0);
  private places: Int32Array = new Int32Array(0);

  /** For so many cells. */
  constructor(private readonly cells: number) {
    this.starts = new Int32Array(cells + 1);
  }

  get bytes(): number {
    return this.starts.byteLength + this.members.byteLength + this.places.byteLength;
  }

  /**
   * Makes a place for the member of each group in its cell, where there is none yet; places that there are stay as they are. Groups
   * with a negative cell or member have none. Returns the place of each group, -1 for none.
   */
  add(cellOf: Int32Array, memberOf: Int32Array): Int32Array {
    const known = this.size;
    const length = known + cellOf.length;
    const [cells, members] = [new Int32Array(length), new Int32Array(length)];
    for (let cell = 0; cell < this.cells; cell++) cells.fill(cell, this.starts[cell], this.starts[cell + 1]);
    members.set(this.members);
    // What has no place is put after all cells.
    for (let group = 0; group < cellOf.length; group++) {
      const isNowhere = cellOf[group] < 0 || memberOf[group] < 0;
      cells[known + group] = isNowhere ? this.cells : cellOf[group];
      members[known + group] = isNowhere ? 0 : memberOf[group];
    }
    const most = members.reduce((largest, member) => Math.max(largest, member), 0);
    const order = sortedBy(cells, this.cells + 1, sortedBy(members, most + 1, null));
    const placeOf = new Int32Array(cellOf.length).fill(-1);
    const [kept, keptPlaces, starts] = [new Int32Array(length), new Int32Array(length), new Int32Array(this.cells + 1)];
    let count = 0;
    let [lastCell, lastMember] = [-1, -1];
    for (const item of order) {
      const cell = cells[item];
      if (cell === this.cells) break;
      if (cell !== lastCell || members[item] !== lastMember) {
        [lastCell, lastMember] = [cell, members[item]];
        kept[count] = lastMember;
        // What was there comes first among equals: the order is stable.
        keptPlaces[count++] = item < known ? this.places[item] : this.size++;
        starts[cell + 1] = count;
      }
      if (item >= known) placeOf[item - known] = keptPlaces[count - 1];
    }
    for (let cell = 0; cell < this.cells; cell++) starts[cell + 1] = Math.max(starts[cell + 1], starts[cell]);
    [this.starts, this.members, this.places] = [starts, kept.slice(0, count), keptPlaces.slice(0, count)];
    return placeOf;
  }

  /** The place of a member in a cell; -1 where it has none. */
  find(cell: number, member: number): number {
    let [low, high] = [this.starts[cell], this.starts[cell + 1] - 1];
    while (low <= high) {
      const middle = (low + high) >> 1;
      if (this.members[middle] === member) return this.places[middle];
      if (this.members[middle] < member) low = middle + 1;
      else high = middle - 1;
    }
    return -1;
  }

  /** The members with a place in a cell for which something holds of that place, in their order. */
  membersOf(cell: number, holds: (place: number) => boolean): number[] {
    const found: number[] = [];
    for (let at = this.starts[cell]; at < this.starts[cell + 1]; at++) if (holds(this.places[at])) found.push(this.members[at]);
    return found;
  }
}

/** Positions in the order of their keys, those of equal keys as they were: counted, since keys are small whole numbers below `most`. */
function sortedBy(keys: Int32Array, most: number, order: Int32Array | null): Int32Array {
  const next = new Int32Array(most + 1);
  for (const key of keys) next[key + 1]++;
  for (let key = 0; key < most; key++) next[key + 1] += next[key];
  const sorted = new Int32Array(keys.length);
  for (let at = 0; at < keys.length; at++) {
    const item = order ? order[at] : at;
    sorted[next[keys[item]]++] = item;
  }
  return sorted;
}
