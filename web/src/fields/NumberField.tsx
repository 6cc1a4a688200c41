/** A number of the design: takes any unit of its dimension, says what it understood, never alters what was typed in silence. */
import { memo, useEffect, useRef, useState, type KeyboardEvent } from "react";
import { TextInput } from "@mantine/core";
import { useBench, usePick, useSystem } from "../design/context";
import { fieldAt, type Field as Known } from "../design/fields";
import { getAt } from "../design/path";
import { figuresInput, unitSection } from "../kit/inputs";
import { told } from "../kit/Notice";
import { number, plain, shownUnit } from "../units/format";
import { parse, type Dimension } from "../units/parse";
import css from "./fields.module.css";
import { useAssumed } from "./assumed";
import { Measured } from "./Measured";

interface Props {
  path: string;
  /** What can be bought, in the design's own unit; arrow keys walk along it. */
  sizes?: number[];
  label?: string;
  placeholder?: string;
  /** Inside a table whose head already names it: the label is for screen readers alone. */
  bare?: boolean;
}

export const NumberField = memo(
  Field,
  (a, b) =>
    a.path === b.path &&
    a.label === b.label &&
    a.placeholder === b.placeholder &&
    a.bare === b.bare &&
    String(a.sizes) === String(b.sizes),
);

function Field({ path, sizes, label, placeholder, bare }: Props) {
  const { session, start } = useBench();
  const value = usePick((v) => getAt(v.design, path) as number | null | undefined);
  const problem = usePick((v) => v.problems.find((p) => p.field === path));
  const currency = usePick((v) => v.design.aim.currency);
  const assumed = useAssumed(path);
  const [system] = useSystem();
  const field = fieldAt(start.design_schema, session.get().design, path);
  const unit =
    field.dimension === "money" ? currency : shownUnit(field.dimension, start.units, system, field.unit);
  const dimension = start.units[field.dimension];
  const factor = dimension?.factors[unit] ?? 1;
  const shown = value === null || value === undefined ? "" : plain(value / factor);
  const [draft, setDraft] = useState<string | null>(null);
  const [why, setWhy] = useState("");
  const [heard, setHeard] = useState("");
  const [focused, setFocused] = useState(false);
  const committed = useRef(value);

  // Undo, another window or a picked part changed the value: what was typed before no longer counts.
  useEffect(() => {
    if (committed.current !== value) {
      committed.current = value;
      setDraft(null);
      setWhy("");
      setHeard("");
    }
  }, [value]);

  const commit = (next: number | null) => {
    committed.current = next;
    session.set(path, next);
  };
  const still = `Still ${shown || "empty"}${shown && unit ? ` ${unit}` : ""}.`;

  const type = (text: string) => {
    setDraft(text);
    setHeard("");
    if (text.trim() === "" && field.optional) {
      setWhy("");
      commit(null);
      return;
    }
    const got = parse(text, field.dimension, start.units, unit);
    if (!got.ok) return setWhy(`${got.why} ${still}`);
    const exact = Number(got.value.toPrecision(12));
    const outside = refusal(field, exact, factor, unit);
    if (outside) return setWhy(`This takes ${outside}. ${still}`);
    setWhy("");
    if (got.asTyped) setHeard(`= ${number(exact / factor, 6)} ${unit}`);
    commit(exact);
  };

  const walk = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Escape" && draft !== null) {
      setDraft(null);
      setWhy("");
      event.stopPropagation();
      return;
    }
    if ((event.key !== "ArrowUp" && event.key !== "ArrowDown") || typeof value !== "number") return;
    event.preventDefault();
    const next = neighbour(value, event.key === "ArrowUp", {
      bought: sizes ?? field.sizes,
      whole: field.whole,
      factor,
      large: event.shiftKey,
    });
    if (next === undefined || refusal(field, next, factor, unit)) return;
    setDraft(null);
    setWhy("");
    commit(next);
  };

  const said = problem ? told(problem) : "";
  const wrong = why || said;
  const hint = focused && field.why !== "" && !wrong && !heard;
  return (
    <div className={css.field}>
      <TextInput
        {...{ [bare ? "aria-label" : "label"]: label ?? field.title }}
        classNames={figuresInput}
        inputMode="text"
        autoComplete="off"
        spellCheck={false}
        data-path={path}
        data-assumed={assumed || undefined}
        value={draft ?? shown}
        placeholder={placeholder ?? (field.optional ? "–" : "")}
        title={[field.why, inBoth(value, dimension), range(field, factor, unit), assumed && ASSUMED]
          .filter(Boolean)
          .join("\n")}
        onChange={(e) => type(e.currentTarget.value)}
        onKeyDown={walk}
        onFocus={(e) => (e.currentTarget.select(), setFocused(true))}
        onBlur={() => (setFocused(false), !why && (setDraft(null), setHeard("")))}
        error={wrong ? <span role="alert">{wrong}</span> : undefined}
        {...unitSection(unit)}
      />
      {hint && (
        <div className={css.hint} aria-hidden="true">
          {field.why}
        </div>
      )}
      {heard && !wrong && (
        <div className={css.under} role="status">
          {heard}
        </div>
      )}
      {field.dimension === "length" && typeof value === "number" && !bare && (
        <Measured path={path} dimension={field.dimension} unit={unit} factor={factor} drawn={value} />
      )}
    </div>
  );
}

const ASSUMED = "Assumed: nobody has chosen this value yet.";

/** Why a number cannot stand in a field, in the field's unit; "" where it can. */
export function refusal(
  field: Pick<Known, "low" | "high" | "whole">,
  x: number,
  factor: number,
  unit: string,
) {
  const at = (limit: number) => `${number(limit / factor, 6)}${unit ? ` ${unit}` : ""}`;
  const { low, high } = field;
  if (low !== undefined && x < low)
    return `at least ${at(low)}${high !== undefined ? `, at most ${at(high)}` : ""}`;
  if (high !== undefined && x > high)
    return `at most ${at(high)}${low !== undefined ? `, at least ${at(low)}` : ""}`;
  return field.whole && !Number.isInteger(x) ? "a whole number" : "";
}

/** The next number up or down: of what can be bought, of whole ones, or a step of the first or second figure. */
export function neighbour(
  value: number,
  up: boolean,
  by: { bought: readonly number[] | undefined; whole: boolean; factor: number; large: boolean },
): number | undefined {
  if (by.bought)
    return up ? by.bought.find((s) => s > value + 1e-9) : by.bought.filter((s) => s < value - 1e-9).at(-1);
  const size = Math.log10(Math.max(Math.abs(value / by.factor), 1e-6));
  const step = by.whole ? 1 : 10 ** Math.floor(size - (by.large ? 0 : 1)) * by.factor;
  return Number((value + (up ? step : -step)).toPrecision(10));
}

function inBoth(value: number | null | undefined, dimension: Dimension | undefined): string {
  if (!dimension || dimension.metric === dimension.imperial || typeof value !== "number") return "";
  return [dimension.metric, dimension.imperial]
    .map((u) => `${number(value / (dimension.factors[u] ?? 1), 5)} ${u}`)
    .join(" = ");
}

const range = ({ low, high }: Known, factor: number, unit: string) =>
  low === undefined || high === undefined
    ? ""
    : `from ${number(low / factor, 6)} to ${number(high / factor, 6)} ${unit}`;
