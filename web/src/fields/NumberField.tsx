/** A number of the design: takes any unit of its dimension, says what it understood, never alters what was typed in silence. */
import { memo, useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { useBench, usePick, useSystem } from "../design/context";
import { fieldAt, type Schema } from "../design/fields";
import { getAt } from "../design/path";
import { number, plain, shownUnit } from "../units/format";
import { parse } from "../units/parse";
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
  const [system] = useSystem();
  const field = fieldAt(start.design_schema as unknown as Schema, session.get().design, path);
  const unit =
    field.dimension === "money" ? currency : shownUnit(field.dimension, start.units, system, field.unit);
  const dimension = start.units[field.dimension];
  const factor = dimension?.factors[unit] ?? 1;
  const shown = value === null || value === undefined ? "" : plain(value / factor);
  const [draft, setDraft] = useState<string | null>(null);
  const [why, setWhy] = useState("");
  const [heard, setHeard] = useState("");
  const committed = useRef(value);
  const id = useId();

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

  const refusal = (x: number): string => {
    const at = (limit: number) => `${number(limit / factor, 6)}${unit ? ` ${unit}` : ""}`;
    if (field.low !== undefined && x < field.low)
      return `at least ${at(field.low)}${field.high !== undefined ? `, at most ${at(field.high)}` : ""}`;
    if (field.high !== undefined && x > field.high)
      return `at most ${at(field.high)}${field.low !== undefined ? `, at least ${at(field.low)}` : ""}`;
    if (field.whole && !Number.isInteger(x)) return "a whole number";
    return "";
  };

  const type = (text: string) => {
    setDraft(text);
    setHeard("");
    if (text.trim() === "" && field.optional) {
      setWhy("");
      commit(null);
      return;
    }
    const got = parse(text, field.dimension, start.units, unit);
    if (!got.ok) {
      setWhy(`${got.why} Still ${shown || "empty"}${shown && unit ? ` ${unit}` : ""}.`);
      return;
    }
    const exact = Number(got.value.toPrecision(12));
    const outside = refusal(exact);
    if (outside) {
      setWhy(`This takes ${outside}. Still ${shown || "empty"}${shown && unit ? ` ${unit}` : ""}.`);
      return;
    }
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
    const up = event.key === "ArrowUp";
    let next: number | undefined;
    const bought = sizes ?? field.sizes;
    if (bought)
      next = up ? bought.find((s) => s > value + 1e-9) : bought.filter((s) => s < value - 1e-9).at(-1);
    else {
      const by = field.whole
        ? 1
        : 10 ** Math.floor(Math.log10(Math.max(Math.abs(value / factor), 1e-6)) - (event.shiftKey ? 0 : 1)) *
          factor;
      next = Number((value + (up ? by : -by)).toPrecision(10));
    }
    if (next === undefined || refusal(next)) return;
    setDraft(null);
    setWhy("");
    commit(next);
  };

  const message =
    why ||
    (problem
      ? `${problem.message}${problem.limit ? ` (limit ${problem.limit} ${problem.unit})`.replace(" )", ")") : ""}. ${problem.remedy}`
      : "") ||
    heard;
  const both =
    dimension && dimension.metric !== dimension.imperial && typeof value === "number"
      ? ["metric", "imperial"]
          .map(
            (s) =>
              `${number(value / (dimension.factors[dimension[s as "metric"]] ?? 1), 5)} ${dimension[s as "metric"]}`,
          )
          .join(" = ")
      : "";
  const range =
    field.low !== undefined && field.high !== undefined
      ? `from ${number(field.low / factor, 6)} to ${number(field.high / factor, 6)} ${unit}`
      : "";
  return (
    <div className={`field ${why || problem ? "bad" : ""}`}>
      <label className={bare ? "hidden" : "name"} htmlFor={id}>
        {label ?? field.title}
      </label>
      <div className="box" title={[field.why, both, range].filter(Boolean).join("\n")}>
        <input
          id={id}
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          data-path={path}
          value={draft ?? shown}
          placeholder={placeholder ?? (field.optional ? "–" : "")}
          onChange={(e) => type(e.target.value)}
          onKeyDown={walk}
          onFocus={(e) => e.target.select()}
          onBlur={() => !why && (setDraft(null), setHeard(""))}
          aria-invalid={!!(why || problem)}
          aria-describedby={message ? `${id}-m` : undefined}
        />
        {unit && <span className="unit">{unit}</span>}
      </div>
      {field.dimension === "length" && typeof value === "number" && !bare && (
        <Measured path={path} dimension={field.dimension} unit={unit} factor={factor} drawn={value} />
      )}
      {message && (
        <div className="under" id={`${id}-m`} role={why || problem ? "alert" : "status"}>
          {message}
        </div>
      )}
    </div>
  );
}
