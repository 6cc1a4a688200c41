/** Reads what a maker types into a number field: numbers, fractions, any unit of the field's dimension. */

export interface Dimension {
  base: string;
  factors: Record<string, number>;
  metric: string;
  imperial: string;
}
export type Units = Record<string, Dimension>;

export type Parsed = { ok: true; value: number; unit: string; asTyped: boolean } | { ok: false; why: string };

const NUMBER = String.raw`[+-]?(?:\d+\s+\d+\s*\/\s*\d+|\d+\s*\/\s*\d+|\d*[.,]?\d+(?:[eE][+-]?\d+)?|\d+[.,]?)`;
const TERM = new RegExp(String.raw`^\s*(${NUMBER})\s*([^\d\s+].*?)?\s*(?=$|[+-]?\d)`, "u");

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

const bare = (unit: string) => unit.replace(/[\s·.*-]/g, "");

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
    const found = TERM.exec(rest);
    if (!found?.[1]) return { ok: false, why: `“${text.trim()}” is not a number.` };
    const typed = (found[2] ?? "").trim();
    const number = readNumber(found[1].trim());
    if (!Number.isFinite(number)) return { ok: false, why: `“${found[1]}” is not a number.` };
    rest = rest.slice(found[0].length).trim();
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
