/** The numbers by which one picks a part of its kind, and the order in which parts are shown. */
import type { DrawerRow, Start } from "../api/client";

type Words = Start["drawer"]["data"];

export interface Figure {
  name: string;
  title: string;
  unit: string;
}

const MOST = 4;

/** Of the numbers that the drawer knows, the most telling that differ among these rows. */
export function figuresOf(rows: readonly DrawerRow[], words: Words): Figure[] {
  return Object.entries(words)
    .filter(([name]) => {
      const values = rows.map((r) => r.data[name]).filter((v) => typeof v === "number");
      return values.length * 2 >= rows.length && new Set(values).size > 1;
    })
    .slice(0, MOST)
    .map(([name, { says, unit }]) => ({ name, title: unit && says === "coil" ? unit : says, unit }));
}

const INFINITE = Number.POSITIVE_INFINITY;
const numberOf = (row: DrawerRow, name: string) => {
  const value = row.data[name];
  return typeof value === "number" ? value : INFINITE;
};

/** What one costs the maker, or else as a rule, in the currency of the design. */
export const priceOf = (row: DrawerRow, factor: number): number =>
  row.price ?? (typeof row.typical !== "number" ? INFINITE : row.typical * factor);

/** By one of the figures, the smallest first and of equal ones the cheapest; as they come where none is chosen: what is owned, then the rest. */
export const sortedBy = (rows: readonly DrawerRow[], by: Figure | undefined): readonly DrawerRow[] =>
  by
    ? [...rows].sort((a, b) => numberOf(a, by.name) - numberOf(b, by.name) || priceOf(a, 1) - priceOf(b, 1))
    : rows;
