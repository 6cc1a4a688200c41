/** A dimension as it was found on the real thing: it counts instead of what was drawn, and says so beside the field. */
import { useState } from "react";
import { TextInput } from "@mantine/core";
import { useBench, usePick } from "../design/context";
import { Act } from "../kit/Act";
import { parse } from "../units/parse";
import { number, plain } from "../units/format";
import css from "./fields.module.css";

interface Props {
  path: string;
  dimension: string;
  unit: string;
  factor: number;
  drawn: number;
}

export function Measured({ path, dimension, unit, factor, drawn }: Props) {
  const { session, start } = useBench();
  const all = usePick((v) => v.design.measured) ?? [];
  const found = all.find((m) => m.field === path);
  const index = all.findIndex((m) => m.field === path);
  const problem = usePick(
    (v) =>
      v.problems.find((p) => index >= 0 && p.field === `measured.${index}.field`) ??
      (found ? v.problems.find((p) => p.field === path) : undefined),
  );
  const [draft, setDraft] = useState<string | null>(null);
  const [why, setWhy] = useState("");
  const name = path.split(".").at(-1)?.replace(/_mm$/, "").replaceAll("_", " ") ?? path;
  const set = (value: number | null) =>
    session.set("measured", [
      ...all.filter((m) => m.field !== path),
      ...(value === null ? [] : [{ field: path, value }]),
    ]);
  const type = (text: string) => {
    setDraft(text);
    const got = parse(text, dimension, start.units, unit);
    if (!got.ok) return setWhy(got.why);
    setWhy("");
    set(Number(got.value.toPrecision(12)));
  };
  if (!found)
    return (
      <span className={css.gauge}>
        <Act
          plain
          title="Enter what you measured on the real thing; it counts instead"
          aria-label={`Enter the measured ${name}`}
          onClick={() => set(drawn)}
        >
          measured?
        </Act>
      </span>
    );
  const off = (found.value - drawn) / factor;
  return (
    <div className={css.measured}>
      measured{" "}
      <TextInput
        aria-label={`Measured ${name}`}
        data-measured={path}
        value={draft ?? plain(found.value / factor)}
        onChange={(e) => type(e.currentTarget.value)}
        onBlur={() => !why && setDraft(null)}
      />{" "}
      {unit}{" "}
      <Act plain aria-label={`Drop the measured ${name}`} onClick={() => (setDraft(null), set(null))}>
        drop
      </Act>
      {why || problem ? (
        <div className="signal" role="alert">
          {why || `${problem!.message}. ${problem!.remedy}`}
        </div>
      ) : (
        off !== 0 && (
          <div>
            counts instead of what is drawn, {off > 0 ? "+" : "−"}
            {number(Math.abs(off), 3)} {unit}
          </div>
        )
      )}
    </div>
  );
}
