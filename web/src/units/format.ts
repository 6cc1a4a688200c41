/** Shows numbers with the digits that matter and the unit of the chosen system. */
import type { Units } from "./parse";

export type System = "metric" | "imperial";

/** Up to `digits` significant digits, no exponent between 0.0001 and 10 million, a thin space for thousands. */
export function number(value: number | null | undefined, digits = 3): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  const size = Math.abs(value);
  if (size < 1e-4 || size >= 1e7)
    return value
      .toExponential(digits - 1)
      .replace("e", "·10^")
      .replace("+", "");
  const places = Math.max(0, Math.min(8, digits - 1 - Math.floor(Math.log10(size))));
  const text = value.toFixed(places);
  const trimmed = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  const [whole = "", part] = trimmed.split(".");
  const grouped = whole.replace("-", "−").replace(/\B(?=(\d{3}){2,}(?!\d)|(?<=\d{2})(?=\d{3}$))/g, "\u202f");
  return part ? `${grouped}.${part}` : grouped;
}

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

/** Dimension whose own unit this is; results say only their unit. */
export function dimensionOf(unit: string, units: Units): string | undefined {
  return Object.keys(units).find((name) => units[name]!.base === unit && unit !== "");
}

export interface Shown {
  text: string;
  unit: string;
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
  const name = dimensionOf(unit, units);
  const dimension = name ? units[name] : undefined;
  if (!dimension || value === null || value === undefined) {
    const text = number(value, digits);
    return { text, unit, both: `${text} ${unit}`.trim() };
  }
  const inUnit = (to: string) => number(value / (dimension.factors[to] ?? 1), digits);
  const to = dimension[system];
  const both =
    dimension.metric === dimension.imperial
      ? `${inUnit(to)} ${to}`
      : `${inUnit(dimension.metric)} ${dimension.metric} = ${inUnit(dimension.imperial)} ${dimension.imperial}`;
  return { text: inUnit(to), unit: to, both };
}

export function money(value: number | null | undefined, currency: string): string {
  if (value === null || value === undefined) return "no price yet";
  return `${value.toFixed(2)} ${currency}`.trim();
}

/** Numbers in the chosen system, for a plot. */
export function scaled<T extends number | null>(
  values: readonly T[],
  unit: string,
  units: Units,
  system: System,
): T[] {
  const name = dimensionOf(unit, units);
  const dimension = name ? units[name] : undefined;
  const factor = dimension ? (dimension.factors[dimension[system]] ?? 1) : 1;
  return values.map((v) => (v === null ? v : ((v / factor) as T)));
}
