type Path = readonly (string | null)[];

/**
 * A path as documents and databases keep it: members as they are, but groups, all others and the like, which begin with a sign
 * that no database takes in a text, begin with `%00`.
 */
export const writtenPath = (path: Path): (string | null)[] =>
  path.map((part) => (part === null ? null : part.replace(/^(?:\0|%(?=00|25))/, (found) => (found === '%' ? '%25' : '%00'))));

/** The inverse of `writtenPath`. */
export const readPath = (path: Path): (string | null)[] =>
  path.map((part) => (part === null ? null : part.replace(/^%(00|25)/, (_, code) => (code === '00' ? '\0' : '%'))));
