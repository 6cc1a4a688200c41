/** Shows numbers with the digits that matter and the unit of the chosen system. */
import type { Dimension, Units } from "./parse";

export type System = "metric" | "imperial";

/** Up to `digits` significant digits, never a power of ten, a thin space for thousands. */
export function number(value: number | null | undefined, digits = 3): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  const places = digits - 1 - Math.floor(Math.log10(Math.abs(value)));
  const text =
    places < 0 ? String(Number(value.toPrecision(digits))) : value.toFixed(Math.min(places, MOST_PLACES));
  const trimmed = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  const [whole = "", part] = trimmed.split(".");
  if (/^-?0?$/.test(whole) && !part) return value > 0 ? "≈ 0" : "≈ −0"; // smaller than can be written out
  const grouped = whole.replace("-", "−").replace(/\B(?=(\d{3}){2,}(?!\d)|(?<=\d{2})(?=\d{3}$))/g, "\u202f");
  return part ? `${grouped}.${part}` : grouped;
}
const MOST_PLACES = 12;

/** Day and time of a moment, as this machine's clock has it. */
export function moment(at: string | number): string {
  return new Date(at).toLocaleString("sv-SE", { dateStyle: "short", timeStyle: "short" });
}

/** Bytes in the unit that gives two or three digits. */
export function bytes(count: number): string {
  const [per, unit] = count >= 1e9 ? [1e9, "GB"] : count >= 1e6 ? [1e6, "MB"] : [1e3, "kB"];
  return `${number(count / per, count >= 1e6 ? 3 : 2)} ${unit}`;
}

/** One of a thing, or so many of them. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${number(count, 9)} ${count === 1 ? one : many}`;
}

/** A number exactly as it may be typed again. */
export function plain(value: number): string {
  return String(Number(value.toPrecision(10)));
}

export function shownUnit(
  dimension: string | undefined,
  units: Units,
  system: System,
  fallback: string,
): string {
  const found = dimension ? units[dimension] : undefined;
  return found && found.base ? found[system] : fallback;
}

interface Pair {
  dimension: Dimension;
  metric: string;
  imperial: string;
}

const pairs = new WeakMap<Units, Map<string, Pair>>();

/** For a unit that results come in: its dimension, and what either system shows it in. */
function pairOf(unit: string, units: Units): Pair | undefined {
  let known = pairs.get(units);
  if (!known) {
    known = new Map();
    for (const dimension of Object.values(units)) {
      const { base, metric, imperial } = dimension;
      if (base && !known.has(base)) known.set(base, { dimension, metric, imperial });
      for (const [from, to] of Object.entries(dimension.pairs ?? {}))
        known.set(from, { dimension, metric: from, imperial: to });
    }
    pairs.set(units, known);
  }
  return known.get(unit);
}

/** By how much a number in a unit is to be multiplied to stand in the unit that is shown, and that unit. */
function shownAs(unit: string, units: Units, system: System): { to: string; by: number } {
  const pair = pairOf(unit, units);
  if (!pair) return { to: unit, by: 1 };
  const { factors } = pair.dimension;
  const to = pair[system];
  return { to, by: (factors[unit] ?? 1) / (factors[to] ?? 1) };
}

export interface Shown {
  text: string;
  unit: string;
  /** Number and unit, as they stand in a line. */
  said: string;
  both: string;
}

/** A result in the chosen system, with both systems for a tooltip. */
export function quantity(
  value: number | null | undefined,
  unit: string,
  units: Units,
  system: System,
  digits = 3,
): Shown {
  const as = (in_: System) => {
    const { to, by } = shownAs(unit, units, in_);
    const text = number(value === null || value === undefined ? value : value * by, digits);
    return { text, unit: to, said: `${text} ${to}`.trim() };
  };
  const [metric, imperial] = [as("metric"), as("imperial")];
  const both = metric.unit === imperial.unit ? metric.said : `${metric.said} = ${imperial.said}`;
  return { ...(system === "metric" ? metric : imperial), both };
}

export function money(value: number | null | undefined, currency: string): string {
  if (value === null || value === undefined) return "no price yet";
  return `${value.toFixed(2)} ${currency}`.trim();
}

/** An amount; one that holds typical prices says that it is about so much. */
export function about(value: number | null | undefined, currency: string, typical: boolean): string {
  return `${typical && typeof value === "number" ? "≈ " : ""}${money(value, currency)}`;
}

/** Numbers in the chosen system, for a plot. */
export function scaled<T extends number | null>(
  values: readonly T[],
  unit: string,
  units: Units,
  system: System,
): T[] {
  const { by } = shownAs(unit, units, system);
  return values.map((v) => (v === null ? v : ((v * by) as T)));
}
