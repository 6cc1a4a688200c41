/**
 * Rows of lists, each with an id of its own: what is said of a row follows it wherever it stands.
 *
 * A path leads to a place ("chain.1.ratio"); a reference names the row ("chain.k3f.ratio"), as the core has it.
 */
import type { Design } from "../api/client";
import { newKey } from "../api/keys";
import { getAt } from "./path";

type Item = { id?: string };
const idOf = (row: unknown, place: number) => (row as Item | null)?.id || String(place);
const isRow = (value: unknown): value is object => value !== null && typeof value === "object";

/** The reference of a path; as it stands where it leads through no row. */
export function refOf(design: unknown, path: string): string {
  let here: unknown = design;
  return path
    .split(".")
    .map((key) => {
      const was = here;
      here = isRow(was) ? (was as Record<string, unknown>)[key] : undefined;
      return Array.isArray(was) ? idOf(here, Number(key)) : key;
    })
    .join(".");
}

/** The path of a reference, null where its row is not there. */
export function pathOf(design: unknown, ref: string): string | null {
  let here: unknown = design;
  const way: string[] = [];
  for (const key of ref.split(".")) {
    let at = key;
    if (Array.isArray(here)) {
      const place = here.findIndex((row, i) => idOf(row, i) === key);
      if (place < 0) return null;
      at = String(place);
    }
    way.push(at);
    here = isRow(here) ? (here as Record<string, unknown>)[at] : undefined;
  }
  return way.join(".");
}

/** A design's own words of places (what is chosen, measured, made) in other names; those that come to null go. */
export function retold(design: Design, by: (place: string) => string | null): Design {
  const listed = <T>(
    rows: readonly T[] | undefined,
    name: (row: T) => string,
    set: (row: T, to: string) => T,
  ) =>
    (rows ?? []).flatMap((row) => {
      const to = by(name(row));
      return to === null ? [] : [to === name(row) ? row : set(row, to)];
    });
  const { measured, made, chosen } = design;
  return {
    ...design,
    ...(measured && {
      measured: listed(
        measured,
        (m) => m.field ?? "",
        (m, field) => ({ ...m, field }),
      ),
    }),
    ...(made && {
      made: listed(
        made,
        (m) => m.key ?? "",
        (m, key) => ({ ...m, key }),
      ),
    }),
    ...(chosen && {
      chosen: listed(
        chosen,
        (c) => c,
        (_, to) => to,
      ),
    }),
  };
}

const ids = (value: unknown): string =>
  isRow(value)
    ? Array.isArray(value)
      ? `[${value.map((row, i) => `${idOf(row, i)}${ids(row)}`).join()}]`
      : Object.entries(value)
          .map(([name, inner]) => {
            const within = ids(inner);
            return within && name + within;
          })
          .join("")
    : "";

/** What was chosen, measured or made in a row goes with it, or goes where it has gone. */
export function followed(before: Design, after: Design): Design {
  if (ids({ ...before, done: 0 }) === ids({ ...after, done: 0 })) return after;
  return retold(after, (path) => pathOf(after, refOf(before, path)));
}

const rows = (design: Design, list: string) => (getAt(design, list) as readonly unknown[] | undefined) ?? [];

export const without = (design: Design, list: string, index: number) => ({
  [list]: rows(design, list).filter((_, i) => i !== index),
});

const put = (listed: readonly unknown[], index: number, row: unknown) => [
  ...listed.slice(0, index),
  row,
  ...listed.slice(index),
];

export const inserted = (design: Design, list: string, index: number, row: object | null) => ({
  [list]: put(rows(design, list), index, { ...row, id: newKey(6) }),
});

export const moved = (design: Design, list: string, index: number, to: number) => ({
  [list]: put(without(design, list, index)[list] ?? [], to, rows(design, list)[index]),
});

/** What is put at a place, with ids: a part in another's place has that one's, a row that is new one of its own. */
export function keyed(before: unknown, value: unknown, named: boolean): unknown {
  if (Array.isArray(value))
    return named
      ? value.map((row) => (isRow(row) && !(row as Item).id ? { ...row, id: newKey(6) } : row))
      : value;
  const had = (before as Item | null | undefined)?.id;
  return isRow(value) && had && !(value as Item).id ? { ...value, id: had } : value;
}
