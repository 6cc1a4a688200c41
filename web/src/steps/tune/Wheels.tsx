/** The guide by feel: wheels one by one in their three states, or a rail run by hand. */
import { useState } from "react";
import type { WheelsReading } from "../../api/client";
import { useBench, useNumbers } from "../../design/context";
import { FreeNumber } from "../../fields/FreeNumber";
import { Pick } from "../../kit/inputs";
import { Cols, Fields, Fold, Sheet } from "../../kit/sheets";
import { useLast } from "./measured";
import { WriteDown } from "./WriteDown";
import css from "./tune.module.css";

type State = WheelsReading["states"][number];

const STATES: readonly { value: State | ""; label: string }[] = [
  { value: "", label: "not felt yet" },
  { value: "spins free", label: "spins free" },
  { value: "slight drag", label: "slight drag" },
  { value: "drags the plate", label: "drags the plate" },
];

export function Wheels({ places, drag }: { places: readonly string[]; drag: number | null }) {
  const [felt, setFelt] = useState<readonly (State | "")[]>([]);
  const [turned, setTurned] = useState<number | null>(null);
  const { start } = useBench();
  const { show } = useNumbers();
  const last = useLast((k) => k.how === "wheels");
  if (places.length === 0)
    return (
      <Sheet title="Guide">
        <p className="small">
          Run the carriage by hand over its whole length before the belt goes on. A tight spot is a rail bolt
          or a rail that is not straight; loosen, run, tighten behind the block.
        </p>
      </Sheet>
    );
  const states = places.map((_, i) => felt[i] ?? "");
  const known = states.filter((s): s is State => s !== "");
  const whole = known.length === places.length;
  return (
    <Sheet
      title="Wheels"
      note={last ? `${last.day}: ${last.kept.verdict}. ${String(last.kept.says)}` : "each by its place"}
      data-wheels
    >
      <Cols>
        <ol className={css.steps}>
          <li>Open the eccentrics; fixed wheels above, eccentrics below.</li>
          <li>Turn all eccentrics the same way until each wheel just touches.</li>
          <li>
            Hold the carriage and turn one wheel with a finger. It spins free: loose. It turns with a slight
            drag: right. It can only drag the carriage along: tight.
          </li>
          <li>
            Some set it at the slight drag; others go on to where turning a wheel just begins to move the
            carriage. Take one of the two for all wheels, never both.
          </li>
          <li>
            Rock the carriage in every direction: no play. A gauge on it belongs to part by part, above.
          </li>
          <li>Lock the nuts without moving the eccentrics; feel again.</li>
        </ol>
        <Fold title="Note each wheel as you feel it">
          {() => (
            <>
              <Fields>
                {places.map((place, i) => (
                  <Pick
                    key={place}
                    label={`Wheel ${place}`}
                    value={states[i] ?? ""}
                    options={STATES}
                    onValue={(v) =>
                      setFelt(places.map((_, j) => (j === i ? (v as State | "") : (states[j] ?? ""))))
                    }
                  />
                ))}
                <FreeNumber
                  label="Eccentrics turned by, turns"
                  dimension="number"
                  name="turned"
                  units={start.units}
                  signed
                  onValue={setTurned}
                />
              </Fields>
              {drag !== null && (
                <p className="small quiet">
                  The preload that the design reckons with adds about{" "}
                  <b className="num">{show(drag, "N").said}</b> of drag; more preload, more drag.
                </p>
              )}
              <WriteDown reading={whole ? { how: "wheels", states: known, turned } : null} small />
            </>
          )}
        </Fold>
      </Cols>
    </Sheet>
  );
}
