/** Who chose what: paths that a maker set or took, and what becomes of them when rows of a list are moved. */
import type { Design } from "../api/client";
import { getAt } from "./path";

/** Of these the program keeps the books itself. */
const NOT_COUNTED = ["done", "measured", "made", "chosen", "name", "note"];
const MOST = 2000;

/** Every number and word within a value, by path. */
export function leaves(path: string, value: unknown): string[] {
  if (value !== null && typeof value === "object")
    return Object.entries(value).flatMap(([name, inner]) => leaves(`${path}.${name}`, inner));
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

/** The list of chosen paths after some were set: what stood in a part that was replaced is forgotten. */
export function chosenAfter(
  before: readonly string[],
  changes: Readonly<Record<string, unknown>>,
  chosen: readonly string[],
): string[] {
  const set = Object.keys(changes);
  const replaced = set.filter((p) => typeof changes[p] === "object" && changes[p] !== null);
  const kept = before.filter((p) => !replaced.some((r) => within(p, r)));
  const counted = chosen.filter((p) => !NOT_COUNTED.includes(p.split(".")[0] ?? ""));
  return [...new Set([...kept, ...counted])].slice(-MOST);
}

/** What to set when a list of the design gets other rows: `from` says where each of them stood, -1 for a new one. What was chosen or measured in a row goes with it. */
export function reordered(
  design: Design,
  list: string,
  from: readonly number[],
  added?: unknown,
): Record<string, unknown> {
  const rows = (getAt(design, list) as readonly unknown[] | undefined) ?? [];
  const renamed = (path: string): string | null => {
    if (!path.startsWith(`${list}.`)) return path;
    const [place = "", ...rest] = path.slice(list.length + 1).split(".");
    const now = from.indexOf(Number(place));
    return now < 0 ? null : [list, now, ...rest].join(".");
  };
  const measured = design.measured ?? [];
  return {
    [list]: from.map((i) => (i < 0 ? added : rows[i])),
    ...(measured.length > 0 && {
      measured: measured.map((m) => ({ ...m, field: renamed(m.field) })).filter((m) => m.field !== null),
    }),
    chosen: (design.chosen ?? []).map(renamed).filter((p) => p !== null),
  };
}

const places = (design: Design, list: string) =>
  ((getAt(design, list) as readonly unknown[] | undefined) ?? []).map((_, i) => i);

export const without = (design: Design, list: string, index: number) =>
  reordered(
    design,
    list,
    places(design, list).filter((i) => i !== index),
  );

export function inserted(design: Design, list: string, index: number, row: unknown) {
  const from = places(design, list);
  from.splice(index, 0, -1);
  return reordered(design, list, from, row);
}

export function moved(design: Design, list: string, index: number, to: number) {
  const from = places(design, list);
  from.splice(to, 0, ...from.splice(index, 1));
  return reordered(design, list, from);
}
