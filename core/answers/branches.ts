import type { CrosstabResponse, Header, Path, ViewState } from '../api/index.ts';
import {
  branchedMember,
  branchOf,
  branchPart,
  isExtra,
  isBranched,
  isUnder,
  parsePathKey,
  pathKey,
  plainPath,
  type VisibleNode,
} from '../crosstab/index.ts';
import type { Branch, Crosstab } from '../model/index.ts';
import { AnswerError } from './errors.ts';

/** A cross-tab as it is below a member that was opened by a level of its own. */
export function asBranch(exhibit: Crosstab, { fields }: Branch): Crosstab {
  const { order } = exhibit.side;
  // An order by hand, or by another field, is one of the levels that are no longer there.
  const own = order.by === 'hand' || order.by === 'field' ? ({ by: 'label', direction: 'asc' } as const) : order;
  return { ...exhibit, side: { ...exhibit.side, fields, order: own, branches: undefined } };
}

/** A path below the member of a branch, as the cross-tab has it: its first member says which level it is of. */
export const inBranch = ({ path: member, fields }: Branch, path: Path): Path =>
  path.map((part, level) => (level === member.length ? branchPart(fields[level], part) : part));

/** The branch that a path leads into; undefined where it leads into none. Throws AnswerError for one that is not there. */
function knownBranch(exhibit: Crosstab, path: Path): Branch | undefined {
  const found = branchOf(exhibit, path);
  if (!found && isBranched(path))
    throw new AnswerError('scope-unknown', 'This member is not opened by that level any more. Choose another figure.');
  return found;
}

/** How a table stands, for one of its branches: what stands open of the member and above it, and below it in the branch. */
export function viewStateOfBranch(viewState: ViewState, branch: Branch): ViewState {
  const { path, fields } = branch;
  const exceptions = viewState.side.open.exceptions.flatMap((key) => {
    const own = parsePathKey(key);
    const part = branchedMember(own[path.length] ?? null);
    if (part) return isUnder(own, path) && part.field === fields[path.length] ? [pathKey(plainPath(own))] : [];
    return own.length <= path.length ? [key] : [];
  });
  return { ...viewState, side: { ...viewState.side, open: { ...viewState.side.open, exceptions } } };
}

/** A question about a cell, in the cross-tab that the cell is in where it is below a member opened by a level of its own. */
export function placedInBranch<Request extends { side: Path; viewState?: ViewState }>(
  exhibit: Crosstab,
  request: Request,
): { exhibit: Crosstab; request: Request } {
  const branch = knownBranch(exhibit, request.side);
  if (!branch) return { exhibit, request };
  const viewState = request.viewState && viewStateOfBranch(request.viewState, branch);
  return { exhibit: asBranch(exhibit, branch), request: { ...request, side: plainPath(request.side), viewState } };
}

/** A line of a table, and which table it is of: its own, or that of a branch. */
interface BranchedLine {
  /** -1 for the table itself. */
  branch: number;
  row: VisibleNode;
}

/** The lines of a table with those of its branches in the place of what else would be below their members. */
export function branchedLines(
  rows: readonly VisibleNode[],
  pathOf: (row: VisibleNode) => Path,
  branches: readonly { branch: Branch; rows: readonly VisibleNode[]; pathOf(row: VisibleNode): Path }[],
): BranchedLine[] {
  const placed = new Set<number>();
  return rows.flatMap((row): BranchedLine[] => {
    const path = pathOf(row);
    const at = row.role === 'summary' ? -1 : branches.findIndex(({ branch }) => isUnder(path, branch.path));
    if (at < 0) return [{ branch: -1, row }];
    if (placed.has(at)) return [];
    placed.add(at);
    const { branch, rows: own, pathOf: pathIn } = branches[at];
    return own.filter((one) => isUnder(pathIn(one), branch.path)).map((one) => ({ branch: at, row: one }));
  });
}

/** Rows of which those above a branch stand for the figures that its own table shows, not for what would be there without it. */
export function withBranchFigures(
  rows: readonly VisibleNode[],
  pathOf: (row: VisibleNode) => Path,
  branches: readonly (Omit<NonNullable<VisibleNode['elsewhere']>, 'line'> & {
    branch: Branch;
    rows: readonly VisibleNode[];
    pathOf(row: VisibleNode): Path;
  })[],
): VisibleNode[] {
  const placed = new Map<VisibleNode, VisibleNode>();
  const place = (row: VisibleNode): VisibleNode => {
    const path = pathOf(row);
    const above = branches.filter(
      ({ branch }) => path.length <= branch.path.length && path.every((part, level) => part === branch.path[level]),
    );
    if (row.parts.length === 0 || above.length === 0) return row;
    const known = placed.get(row);
    if (known) return known;
    const own = { ...row, parts: [] as VisibleNode[] };
    const put = new Set<unknown>();
    for (const part of row.parts) {
      const at = above.find(({ branch }) => isUnder(pathOf(part), branch.path));
      if (!at) own.parts.push(place(part));
      else if (!put.has(at)) {
        put.add(at);
        const { cells, columnLike } = at;
        own.parts.push(...figuresUnder(at).map((line) => ({ ...line, elsewhere: { cells, line, columnLike } })));
      }
    }
    placed.set(row, own);
    return own;
  };
  return rows.map(place);
}

/** The lines of a branch's table that show the figures nearest to its member, each counted once. */
function figuresUnder({
  branch,
  rows,
  pathOf,
}: {
  branch: Branch;
  rows: readonly VisibleNode[];
  pathOf(row: VisibleNode): Path;
}): VisibleNode[] {
  const figures = rows.filter((row) => {
    const path = pathOf(row);
    return row.role !== 'summary' && !row.bare && isUnder(path, branch.path) && !isExtra(path.at(-1)!);
  });
  const further = new Set(figures.flatMap(({ parts }) => parts));
  return figures.filter((row) => !further.has(row));
}

type Shown = Pick<CrosstabResponse, 'measures' | 'cells' | 'texts' | 'states' | 'bearings' | 'marks'> & {
  rows: Header[];
  columns: Header[];
};

/** Lines of several tables as those of one, in order: each of the table and of the place there that it comes from. */
export function joinedLines(order: readonly { from: Shown; at: number; header: Header }[], whole: Shown): Shown {
  const width = whole.columns.length * whole.measures.length;
  const nothing = (): null[] => Array.from({ length: width }, () => null);
  const joined = <Value>(of: (shown: Shown) => (Value | null)[][] | undefined): (Value | null)[][] | undefined =>
    order.some(({ from }) => of(from)) ? order.map(({ from, at }) => of(from)?.[at] ?? nothing()) : undefined;
  const texts = joined(({ texts: own }) => own);
  const states = joined(({ states: own }) => own);
  const bearings = joined(({ bearings: own }) => own);
  const kinds = order.map(({ from }) => from).find(({ marks }) => marks)?.marks ?? whole.marks;
  const columns = whole.columns.length;
  const marks = kinds?.map(({ measure, index }) => ({
    ...{ measure, index },
    values: order.map(
      ({ from, at }) =>
        from.marks?.find((one) => one.measure === measure && one.index === index)?.values[at] ??
        Array.from({ length: columns }, () => null),
    ),
  }));
  return {
    ...{ rows: order.map(({ header }) => header), columns: whole.columns, measures: whole.measures },
    cells: joined(({ cells }) => cells) ?? [],
    ...(texts ? { texts } : {}),
    ...(states ? { states } : {}),
    ...(bearings ? { bearings } : {}),
    ...(marks ? { marks } : {}),
  };
}
