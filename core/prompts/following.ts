import { isCombined, placedOnSide } from '../crosstab/index.ts';
import { allOf, type Crosstab, type Exhibit, type Filter, type ReaderScope, type Scope } from '../model/index.ts';

/** A place in a cross-tab: its members along both axes. */
interface ChosenPlace {
  side: readonly (string | null)[];
  top: readonly (string | null)[];
}

/** What stands for several members, or for none, says nothing that another exhibit could follow. */
const isPlain = (path: readonly (string | null)[]): boolean => path.every((member) => member === null || !isCombined(member));

/** The conditions of a chosen place, as choices; null where it is the whole, or cannot be followed. */
export function followedPlace(
  { side, top }: Pick<Crosstab, 'side' | 'top'>,
  place: ChosenPlace,
): { scope: Scope; where: Filter | null } | null {
  const own = placedOnSide({ side }, place.side);
  if (!own || place.side.length + place.top.length === 0 || !isPlain(own.path) || !isPlain(place.top)) return null;
  const scope: Scope = {};
  const missing: Filter[] = [];
  for (const [{ fields }, path] of [
    [own, own.path],
    [top, place.top],
  ] as const) {
    path.forEach((member, level) => {
      if (member === null) missing.push({ op: 'empty', field: fields[level] });
      else scope[fields[level]] = [member];
    });
  }
  return { scope, where: allOf(...missing) };
}

/** What an exhibit is asked under while it follows a place in another one. */
export const following = (asked: ReaderScope, place: { scope: Scope; where: Filter | null }): ReaderScope => ({
  ...asked,
  scope: { ...asked.scope, ...place.scope },
  where: allOf(asked.where, place.where),
});

/** Exhibits that follow another one. */
export const followersOf = (exhibits: readonly Exhibit[], id: string): Exhibit[] =>
  exhibits.filter((exhibit) => 'follows' in exhibit && exhibit.follows === id && exhibit.id !== id);
