/** Who chose what: paths that a maker set or took. */
import { getAt } from "./path";

/** Of these the program keeps the books itself. */
const NOT_COUNTED = ["done", "measured", "made", "chosen", "name", "note"];
const MOST = 2000;

/** Every number and word within a value, by path. */
export function leaves(path: string, value: unknown): string[] {
  if (value !== null && typeof value === "object")
    return Object.entries(value)
      .filter(([name]) => name !== "id")
      .flatMap(([name, inner]) => leaves(`${path}.${name}`, inner));
  return [path];
}

/** The places within a value that hold something else than another value does there. */
export function changedLeaves(before: unknown, after: unknown, path: string): string[] {
  return leaves(path, after).filter((leaf) => {
    const at = leaf.slice(path.length + 1);
    return at === "" ? before !== after : getAt(before, at) !== getAt(after, at);
  });
}

const within = (path: string, around: string) => path === around || path.startsWith(`${around}.`);

/** The list of chosen paths after some were set: what stood in a part that was replaced is forgotten. Rows of a list are
 * looked after by their ids (rows.ts).
 */
export function chosenAfter(
  before: readonly string[],
  changes: Readonly<Record<string, unknown>>,
  chosen: readonly string[],
): string[] {
  const set = Object.keys(changes);
  const isPart = (value: unknown) => typeof value === "object" && value !== null && !Array.isArray(value);
  const replaced = set.filter((p) => isPart(changes[p]));
  const kept = before.filter((p) => !replaced.some((r) => within(p, r)));
  const counted = chosen.filter((p) => !NOT_COUNTED.includes(p.split(".")[0] ?? ""));
  return [...new Set([...kept, ...counted])].slice(-MOST);
}
