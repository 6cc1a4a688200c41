/** A number that is not part of the design (a reading, a measured move): any unit, kept by whoever asks. */
import { useEffect, useRef } from "react";
import { TextInput } from "@mantine/core";
import { useSystem } from "../design/context";
import { useText } from "../design/typed";
import { figuresInput, unitSection } from "../kit/inputs";
import { shownUnit } from "../units/format";
import { parse, type Units } from "../units/parse";

interface Props {
  label: string;
  dimension: string;
  onValue: (value: number | null) => void;
  units: Units;
  /** By which a test finds it. */
  name: string;
  start?: string;
  /** Nothing is a value too. */
  orNone?: boolean;
  /** Less than nothing is a value too. */
  signed?: boolean;
  /** Where the dimension has none of its own. */
  unit?: string;
  /** What else is wrong with it. */
  error?: string;
}

export function FreeNumber({
  label,
  dimension,
  onValue,
  units,
  name,
  start = "",
  orNone,
  signed,
  unit: own,
  error,
}: Props) {
  const [system] = useSystem();
  const unit = own ?? shownUnit(dimension, units, system, "");
  // By its unit too: a number without one is never read in another.
  const [text, setText] = useText(`${name} ${unit}`, start);
  const read = (typed: string) => {
    const got = typed.trim() ? parse(typed, dimension, units, unit) : null;
    const low = got?.ok && !signed && (orNone ? got.value < 0 : got.value <= 0);
    const why =
      got && !got.ok ? got.why : low ? (orNone ? "Not less than nothing." : "More than nothing.") : "";
    return { why, value: got?.ok && !low ? got.value : null };
  };
  const { why, value } = read(text);
  // What came back from before, or was typed before the units were there, is told once it can be read.
  const told = useRef(start);
  useEffect(() => {
    if (told.current === text || value === null) return;
    told.current = text;
    onValue(value);
  });
  return (
    <TextInput
      label={label}
      classNames={figuresInput}
      data-free={name}
      autoComplete="off"
      value={text}
      error={why || error ? <span role="alert">{why || error}</span> : undefined}
      onChange={(e) => {
        const { value: typed } = read(e.currentTarget.value);
        if (typed !== null) told.current = e.currentTarget.value;
        setText(e.currentTarget.value);
        onValue(typed);
      }}
      {...unitSection(unit)}
    />
  );
}
