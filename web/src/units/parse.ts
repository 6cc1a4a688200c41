/** Reads what a maker types into a number field: numbers, fractions, any unit of the field's dimension. */

export interface Dimension {
  base: string;
  factors: Record<string, number>;
  metric: string;
  imperial: string;
  /** Of other metric units that results come in, the imperial one. */
  pairs?: Record<string, string>;
}
export type Units = Record<string, Dimension>;

export type Parsed = { ok: true; value: number; unit: string; asTyped: boolean } | { ok: false; why: string };

const NUMBER = String.raw`[+-]?(?:\d+\s+\d+\s*\/\s*\d+|\d+\s*\/\s*\d+|\d*[.,]?\d+(?:[eE][+-]?\d+)?|\d+[.,]?)`;
const LEADING = new RegExp(String.raw`^\s*(${NUMBER})\s*`, "u");
const ANY_UNIT = /^[^\d\s+].*?(?=\s*(?:$|[+-]?\d))/u;

/** One number with its unit at the beginning of a text, and how much of the text they take. */
function term(text: string, dimension: Dimension): { number: string; unit: string; length: number } | null {
  const found = LEADING.exec(text);
  if (!found?.[1]) return null;
  const rest = text.slice(found[0].length);
  // The longest beginning that is a unit of this dimension: "1ft2in" is two lengths, "9 mm/s2" one acceleration.
  for (let end = rest.length; end > 0; end--) {
    const unit = rest.slice(0, end).trimEnd();
    if (/^[a-zµΩ]/iu.test(rest.slice(end)) || unit.length < end) continue;
    if (/^[^\d\s+-]/u.test(unit) && findUnit(dimension, unit))
      return { number: found[1], unit, length: found[0].length + end };
  }
  const unit = ANY_UNIT.exec(rest)?.[0] ?? "";
  return { number: found[1], unit, length: found[0].length + unit.length };
}

function readNumber(text: string): number {
  const mixed = /^([+-]?\d+)\s+(\d+)\s*\/\s*(\d+)$/.exec(text);
  if (mixed) {
    const whole = Number(mixed[1]);
    return whole + (text.startsWith("-") ? -1 : 1) * (Number(mixed[2]) / Number(mixed[3]));
  }
  const fraction = /^([+-]?\d+)\s*\/\s*(\d+)$/.exec(text);
  if (fraction) return Number(fraction[1]) / Number(fraction[2]);
  return Number(text.replace(",", "."));
}

/** Powers are written as they come to hand: mm/s², mm/s2 and mm/s^2 are one unit. */
const bare = (unit: string) =>
  unit
    .replace(/[\s·.*^-]/g, "")
    .replaceAll("²", "2")
    .replaceAll("³", "3");

/** Finds a unit as written, else without regard to dots, spaces and case. */
export function findUnit(dimension: Dimension, unit: string): string | undefined {
  if (unit in dimension.factors) return unit;
  const names = Object.keys(dimension.factors);
  return (
    names.find((n) => bare(n) === bare(unit)) ??
    names.find((n) => bare(n).toLowerCase() === bare(unit).toLowerCase())
  );
}

/** Value in the dimension's own unit; a number without a unit is taken in the unit shown in the field. */
export function parse(text: string, dimensionName: string, units: Units, shown: string): Parsed {
  const dimension = units[dimensionName];
  if (!dimension) return { ok: false, why: "This field has no units." };
  let rest = text.trim().replace(/[−–]/g, "-");
  if (!rest) return { ok: false, why: "Enter a number." };
  let total = 0;
  let lastUnit = "";
  let terms = 0;
  while (rest) {
    const found = term(rest, dimension);
    if (!found) return { ok: false, why: `“${text.trim()}” is not a number.` };
    const typed = found.unit.trim();
    const number = readNumber(found.number.trim());
    if (!Number.isFinite(number)) return { ok: false, why: `“${found.number}” is not a number.` };
    rest = rest.slice(found.length).trim();
    if ((terms > 0 || rest) && !typed) return { ok: false, why: `“${text.trim()}” is not one number.` };
    if (Object.keys(dimension.factors).length === 0) {
      if (typed) return { ok: false, why: `This is a plain number; “${typed}” does not belong to it.` };
      total += number;
    } else {
      const unit = typed ? findUnit(dimension, typed) : shown;
      if (!unit) return { ok: false, why: foreign(typed, dimensionName, units) };
      const factor = dimension.factors[unit] ?? 1;
      total += number * factor;
      lastUnit = unit;
    }
    terms += 1;
  }
  return {
    ok: true,
    value: total,
    unit: lastUnit,
    asTyped: terms > 1 || (lastUnit !== "" && lastUnit !== shown),
  };
}

function foreign(unit: string, wanted: string, units: Units): string {
  const takes = Object.keys(units[wanted]?.factors ?? {})
    .slice(0, 6)
    .join(", ");
  const other = Object.keys(units).find((name) => name !== wanted && findUnit(units[name]!, unit));
  return other
    ? `“${unit}” is a unit of ${other}; this field takes ${takes}.`
    : `“${unit}” is no unit that this field knows; it takes ${takes}.`;
}
