/** A number that is not part of the design (a reading, a measured move): any unit, kept by whoever asks. */
import { useId, useState } from "react";
import { useBench, useSystem } from "../design/context";
import { shownUnit } from "../units/format";
import { parse } from "../units/parse";

interface Props {
  label: string;
  dimension: string;
  onValue: (value: number | null) => void;
  name: string;
  start?: string;
}

export function FreeNumber({ label, dimension, onValue, name, start: first = "" }: Props) {
  const { start } = useBench();
  const [system] = useSystem();
  const [text, setText] = useState(first);
  const id = useId();
  const unit = shownUnit(dimension, start.units, system, "");
  const got = text.trim() ? parse(text, dimension, start.units, unit) : null;
  const why = got && !got.ok ? got.why : got?.ok && got.value <= 0 ? "This takes more than nothing." : "";
  const type = (next: string) => {
    setText(next);
    const read = next.trim() ? parse(next, dimension, start.units, unit) : null;
    onValue(read?.ok && read.value > 0 ? read.value : null);
  };
  return (
    <div className={`field ${why ? "bad" : ""}`}>
      <label className="name" htmlFor={id}>
        {label}
      </label>
      <div className="box">
        <input
          id={id}
          data-free={name}
          autoComplete="off"
          value={text}
          onChange={(e) => type(e.target.value)}
          aria-invalid={!!why}
        />
        {unit && <span className="unit">{unit}</span>}
      </div>
      {why && (
        <div className="under" role="alert">
          {why}
        </div>
      )}
    </div>
  );
}
