/**
 * Changes of two windows laid over one another, field by field and row by row.
 *
 * Only what both have changed, and to something else, is a clash; until somebody decides, what stands there counts.
 */
import type { Design } from "../api/client";
import { pathOf, refOf, retold } from "./rows";

export interface Clash {
  /** By reference to its row, so that it stays right while rows are moved. */
  ref: string;
  mine: unknown;
  theirs: unknown;
}
export interface Laid<T> {
  made: T;
  clashes: Clash[];
}

type Tree = Record<string, unknown>;
const isTree = (value: unknown): value is Tree =>
  value !== null && typeof value === "object" && !Array.isArray(value);
export const same = (a: unknown, b: unknown): boolean =>
  a === b || (a !== undefined && b !== undefined && JSON.stringify(sorted(a)) === JSON.stringify(sorted(b)));
const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : isTree(value)
      ? Object.fromEntries(
          Object.keys(value)
            .sort()
            .map((key) => [key, sorted(value[key])]),
        )
      : value;

const NAMES = ["id", "key", "step", "field", "line", "name"] as const;

/** What a row is known by, whatever place it has. */
function nameOf(row: unknown): string {
  if (typeof row === "string") return row;
  if (!isTree(row)) return "";
  const name = NAMES.find((n) => typeof row[n] === "string" && row[n] !== "");
  return name ? String(row[name]) : "";
}

/** The rows of a list by what they are known by; null where they are known by nothing. */
function byName(list: unknown): Map<string, unknown> | null {
  if (!Array.isArray(list)) return null;
  const found = new Map(list.map((row): [string, unknown] => [nameOf(row), row]));
  return found.size === list.length && !found.has("") ? found : null;
}

/** In every clash this window's own value. */
export const MINE = { get: () => true, has: () => true } as unknown as ReadonlyMap<string, boolean>;

/** `picks` says of clashes whose value counts: true for mine. */
export function laid<T>(
  base: T,
  mine: T,
  theirs: T,
  picks: ReadonlyMap<string, boolean> = new Map(),
): Laid<T> {
  const clashes: Clash[] = [];
  const clash = (ref: string, m: unknown, t: unknown) => {
    clashes.push({ ref, mine: m, theirs: t });
    return picks.get(ref) ? m : t;
  };
  const over = (b: unknown, m: unknown, t: unknown, at: string): unknown => {
    if (same(m, t) || same(m, b)) return t;
    if (same(t, b)) return m;
    if (isTree(m) && isTree(t) && m.kind === t.kind) {
      const was = isTree(b) ? b : {};
      const out: Tree = {};
      for (const key of new Set([...Object.keys(t), ...Object.keys(m)])) {
        const value = over(was[key], m[key], t[key], at ? `${at}.${key}` : key);
        if (value !== undefined) out[key] = value;
      }
      return out;
    }
    const [was, here, there] = [byName(b ?? []), byName(m), byName(t)];
    if (was && here && there) return rows(was, here, there, at);
    return clash(at, m, t);
  };
  const rows = (
    was: Map<string, unknown>,
    here: Map<string, unknown>,
    there: Map<string, unknown>,
    at: string,
  ) => {
    const kept = new Map<string, unknown>();
    for (const name of new Set([...there.keys(), ...here.keys()])) {
      const value = over(was.get(name), here.get(name), there.get(name), `${at}.${name}`);
      if (value !== undefined) kept.set(name, value);
    }
    // The order of whoever has moved rows; what only the other one has comes after what it stands behind there.
    const order = (of: Map<string, unknown>, among: Map<string, unknown>) =>
      [...of.keys()].filter((name) => among.has(name)).join();
    const moved = order(here, was) !== order(was, here);
    const [first, second] = moved ? [here, there] : [there, here];
    const names = [...first.keys()].filter((name) => kept.has(name));
    let behind = -1;
    for (const name of second.keys()) {
      const place = names.indexOf(name);
      if (place >= 0) behind = place;
      else if (kept.has(name)) names.splice(++behind, 0, name);
    }
    return names.map((name) => kept.get(name));
  };
  return { made: over(base, mine, theirs, "") as T, clashes };
}

/** The same for designs: what they say of places by path is compared by row. */
export function laidDesigns(
  base: Design,
  mine: Design,
  theirs: Design,
  picks?: ReadonlyMap<string, boolean>,
): Laid<Design> {
  const told = (design: Design) => retold(design, (path) => refOf(design, path));
  const { made, clashes } = laid(told(base), told(mine), told(theirs), picks);
  return { made: retold(made, (ref) => pathOf(made, ref)), clashes };
}

/** What of a design another one has otherwise, by reference: what a window says of the changes of another. */
export function differing(before: unknown, after: unknown): string[] {
  const found: string[] = [];
  laid({}, before, after).clashes.forEach((c) => found.push(c.ref));
  return found;
}
