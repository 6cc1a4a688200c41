/** Whether a beam stands square: two diagonals, or a gauge at both of its ends; which side is ahead, and what brings it back. */
import { useState } from "react";
import { type Squared, type Squaring } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { FreeNumber } from "../../fields/FreeNumber";
import { Fetched } from "../../kit/Fetched";
import { Either } from "../../kit/inputs";
import { Cols, Fields, Fold, Sheet } from "../../kit/sheets";
import { WriteDown } from "./WriteDown";
import css from "./tune.module.css";

const DIAGONALS = [
  ["across_mm", "Across the beam"],
  ["along_mm", "Along the travel"],
] as const;

/** By what a beam is squared; its fields are made when somebody opens them. */
export function Square({ squaring }: { squaring: Squaring }) {
  const { show } = useNumbers();
  return (
    <Sheet
      title="Square"
      note={`may be off by ${show(squaring.may_mm, "mm").said} over ${show(squaring.width_mm, "mm", 4).said}`}
      data-square
    >
      <p className="small">{squaring.by}</p>
      <Fold title="Measure its square, by diagonals or by two gauges">
        {() => <Measured squaring={squaring} />}
      </Fold>
    </Sheet>
  );
}

function Measured({ squaring }: { squaring: Squaring }) {
  const { design } = useView();
  const { start } = useBench();
  const [how, setHow] = useState<"diagonals" | "gauges">("diagonals");
  const [read, setRead] = useState<Record<string, number | null>>({});
  const [first, second] = squaring.sides as [string, string];
  const fields: readonly (readonly [string, string])[] =
    how === "diagonals"
      ? [
          ...DIAGONALS,
          ["rising_mm", `${first}, near to ${second}, far`],
          ["falling_mm", `${second}, near to ${first}, far`],
        ]
      : [
          ["apart_mm", "Between the gauges"],
          ["first_mm", `Gauge at the ${first}`],
          ["second_mm", `Gauge at the ${second}`],
        ];
  const values = Object.fromEntries(fields.map(([key]) => [key, read[key] ?? null]));
  const whole = Object.values(values).every((v) => v !== null);
  const reading = { how, ...values } as never;
  const answer = useAsked<Squared>("square", design, { reading }, whole);
  return (
    <>
      <Either
        label="How"
        value={how}
        options={[
          { value: "diagonals", label: "by diagonals" },
          { value: "gauges", label: "by two gauges" },
        ]}
        onValue={setHow}
      />
      <p className={`small quiet ${css.asks}`}>
        {how === "diagonals"
          ? "Draw or dot a rectangle as large as the travel allows, supply on, and measure its sides and both diagonals with one tape."
          : "Set two stops square to the rails, a gauge on each against the beam; more is farther along the travel."}
      </p>
      <Cols tight>
        <Fields>
          {fields.map(([key, label]) => (
            <FreeNumber
              key={key}
              label={label}
              dimension="length"
              name={key}
              units={start.units}
              signed={how === "gauges" && key !== "apart_mm"}
              onValue={(v) => setRead((all) => ({ ...all, [key]: v }))}
            />
          ))}
        </Fields>
        <div aria-live="polite">
          {whole ? (
            <Fetched of={answer} what="the square" waiting={null}>
              {(a) => <Beam found={a} sides={[first, second]} />}
            </Fetched>
          ) : (
            <p className="quiet small">Enter what you measured; which side is ahead follows.</p>
          )}
        </div>
      </Cols>
      <WriteDown reading={whole && answer.data ? reading : null} small />
    </>
  );
}

const WIDE = 220;
const MOST_PX = 16;

/** The beam from above between its rails, its lead drawn larger than it is. */
function Beam({ found, sides: [first, second] }: { found: Squared; sides: readonly [string, string] }) {
  const { show } = useNumbers();
  const askew = found.verdict === "askew";
  const size = Math.min(1, Math.abs(found.lead_mm) / Math.max(found.may_mm * 3, 1e-9)) * MOST_PX;
  const rise = Math.sign(found.lead_mm) * size;
  return (
    <div data-square-verdict={found.verdict}>
      <svg viewBox="0 0 300 92" className={css.band} role="img" aria-label={found.says}>
        {[40, 40 + WIDE].map((x) => (
          <line key={x} x1={x} x2={x} y1="4" y2="74" stroke="var(--metal)" strokeWidth="5" />
        ))}
        <line
          x1="40"
          x2={40 + WIDE}
          y1="39"
          y2="39"
          stroke="var(--ink)"
          strokeDasharray="2 3"
          strokeWidth="0.8"
        />
        <line
          x1="40"
          x2={40 + WIDE}
          y1={39 + rise / 2}
          y2={39 - rise / 2}
          stroke={askew ? "var(--signal)" : "var(--ink)"}
          strokeWidth="4"
        />
        <text x="40" y="88" textAnchor="middle" fontSize="10" fill="var(--ink)">
          {first}
        </text>
        <text x={40 + WIDE} y="88" textAnchor="middle" fontSize="10" fill="var(--ink)">
          {second}
        </text>
      </svg>
      <p className={askew ? "signal" : ""} data-result="square.lead" data-value={found.lead_mm}>
        <b>{askew ? "Askew." : "Square."}</b> {found.says}{" "}
        <span className="small quiet">
          {show(found.angle_deg, "°", 2).said}, may be {show(found.may_mm, "mm").said}; the beam is drawn more
          askew than it is
        </span>
      </p>
      <p className="small">{found.does}</p>
    </div>
  );
}
