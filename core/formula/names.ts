/** Edit distance between two texts (Levenshtein; Wagner and Fischer, "The String-to-String Correction Problem", 1974). */
function distance(a: string, b: string): number {
  let previous = Array.from({ length: b.length + 1 }, (_, index) => index);
  for (let i = 1; i <= a.length; i++) {
    const current = [i];
    for (let j = 1; j <= b.length; j++) {
      const change = a[i - 1] === b[j - 1] ? 0 : 1;
      current.push(Math.min(previous[j] + 1, current[j - 1] + 1, previous[j - 1] + change));
    }
    previous = current;
  }
  return previous[b.length];
}

/** The known name that is nearest to a mistyped one; undefined when none is near. */
export function nearestName(name: string, known: Iterable<string>): string | undefined {
  const wanted = name.toLowerCase();
  let best: string | undefined;
  let least = Math.max(2, Math.floor(name.length / 3)) + 1;
  for (const candidate of known) {
    const far = distance(wanted, candidate.toLowerCase());
    if (far < least) {
      least = far;
      best = candidate;
    }
  }
  return best;
}
