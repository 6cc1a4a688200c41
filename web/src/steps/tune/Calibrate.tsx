/** Measured moves: steps for a millimetre or a degree with how sure they are, play, and what the tension did; a feed by its duty. */
import { useState } from "react";
import { type Calibrated, type Move, type Scale } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useSystem, useView } from "../../design/context";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Tick } from "../../kit/inputs";
import { Fig, Figs, Line, Sheet, Table } from "../../kit/sheets";
import { number, shownUnit } from "../../units/format";
import { isTension, useKeep, useLast } from "./measured";
import { WriteDown } from "./WriteDown";
import css from "./tune.module.css";

interface Row {
  commanded: number | null;
  measured: number | null;
  turned: boolean;
  at: number | null;
}

const EMPTY: Row = { commanded: null, measured: null, turned: false, at: null };
const MOST = 40;

export function Calibrate({ scale }: { scale: Scale }) {
  const { design } = useView();
  const { start } = useBench();
  const { show } = useNumbers();
  const [system] = useSystem();
  const [rows, setRows] = useState<Row[]>([EMPTY, EMPTY]);
  const last = useLast((k) => isTension(k) && /^(end(\.1)?)?$/.test(k.of ?? ""));
  const keep = useKeep();
  const change = (i: number, part: Partial<Row>) =>
    setRows((all) => all.map((r, j) => (j === i ? { ...r, ...part } : r)));
  const moves = rows.flatMap((r): Move[] =>
    r.commanded !== null && r.measured !== null
      ? [{ commanded: r.commanded, measured: r.measured, turned: r.turned, at: r.at }]
      : [],
  );
  const steps = scale.kind === "steps";
  const tension = scale.growth_percent !== null ? (last?.kept.tension_n ?? null) : null;
  const reading = { how: "moves" as const, moves, tension_n: tension };
  const asked = moves.length > (steps ? 0 : 1);
  const result = useAsked<Calibrated>("calibrate", design, { reading }, asked);
  const units = start.units;
  const unitOf = (d: readonly [string, string]) => shownUnit(d[0], units, system, d[1]);
  const cell = (i: number, of: keyof Row, label: string, d: readonly [string, string], free = false) => (
    <FreeNumber
      label={`${label}, ${i + 1}.`}
      dimension={d[0]}
      name={`${of}-${i}`}
      units={units}
      orNone={free}
      signed={free}
      onValue={(v) => change(i, { [of]: v })}
    />
  );
  const commanded = scale.commanded as [string, string];
  const measured = scale.measured as [string, string];
  return (
    <Sheet
      title="Calibrate"
      note={
        scale.now === null
          ? undefined
          : `the design says ${steps ? `${number(scale.now, 7)} ${scale.sets}` : `${show(scale.now, "mm/s").said} at full duty`}`
      }
      data-calibrate={scale.kind}
    >
      <p className="small quiet">
        {steps
          ? "Tension first. Always come from the same side; then some moves after turning round, for the play; two lengths, several places."
          : "Set a duty, let it run under its usual load, measure the feed with a tape and a watch: at two duties or more."}
      </p>
      <div className={css.moves}>
        {rows.map((r, i) => (
          <div key={i} className={css.move}>
            {cell(i, "commanded", steps ? "Commanded" : "Duty", commanded)}
            {cell(i, "measured", steps ? "Measured" : "Feed", measured)}
            {steps && cell(i, "at", "Began at", measured, true)}
            {steps && (
              <Tick label="after turning round" on={r.turned} onValue={(turned) => change(i, { turned })} />
            )}
          </div>
        ))}
      </div>
      <Line foot>
        <Act disabled={rows.length >= MOST} onClick={() => setRows((all) => [...all, EMPTY])}>
          Another move
        </Act>
        <span className="small quiet">in {unitOf(measured)}, or with its unit</span>
      </Line>
      {asked && (
        <Fetched of={result} what="the calibration" waiting={null}>
          {(found) => <Told found={found} steps={steps} tension={tension} />}
        </Fetched>
      )}
      <WriteDown reading={asked && result.data ? reading : null} small>
        {tension !== null && asked && (
          <Act onClick={() => keep("end.belt.calibrated_at_n", Number(tension.toPrecision(4)))}>
            Keep {show(tension, "N").said} as the tension it was calibrated at
          </Act>
        )}
      </WriteDown>
    </Sheet>
  );
}

function Told({ found, steps, tension }: { found: Calibrated; steps: boolean; tension: number | null }) {
  const { show } = useNumbers();
  const value = (v: number) => (steps ? number(v, 7) : show(v, "mm/s", 4).text);
  const unit = steps ? found.sets : show(1, "mm/s").unit;
  const said = (v: number | null) => (v === null ? "not known yet" : show(v, found.unit, 2).said);
  const percent = (v: number | null) =>
    v === null ? "not known yet" : `${v > 0 ? "+" : ""}${number(v, 3)} %`;
  return (
    <div aria-live="polite" className={css.found}>
      <Figs>
        <Fig
          name={steps ? "Set" : "At full duty"}
          value={value(found.value)}
          unit={unit}
          data-result="calibrated"
          data-value={found.value}
        />
        {found.low !== null && found.high !== null && (
          <Fig name="to 95 % between" value={`${value(found.low)} and ${value(found.high)}`} unit={unit} />
        )}
        {found.play !== null && (
          <Fig
            name="Play on turning round"
            value={show(found.play, found.unit, 3).text}
            unit={show(1, found.unit).unit}
            data-result="calibrated.play"
            data-value={found.play}
          />
        )}
      </Figs>
      <Table dense>
        <tr>
          <td>Changes by</td>
          <td className="num">{percent(found.change_percent)}</td>
          <td className="quiet small">
            {found.change_within !== null && `± ${number(found.change_within, 2)} % to 95 %`}
          </td>
        </tr>
        {found.growth_percent !== null && (
          <tr>
            <td>Of the error the belt's tension makes</td>
            <td className="num">{percent(found.growth_percent)}</td>
            <td className="quiet small">
              {tension === null ? "at the tension to set" : `at ${show(tension, "N").said}, read last`}
            </td>
          </tr>
        )}
        <tr>
          <td>Moves scatter by</td>
          <td className="num">{said(found.deviation)}</td>
          <td className="quiet small">standard deviation</td>
        </tr>
        {found.starts_at !== null && (
          <tr>
            <td>It starts at</td>
            <td className="num">{number(found.starts_at, 3)} %</td>
            <td className="quiet small">duty, from the line through the readings</td>
          </tr>
        )}
      </Table>
      {found.says.map((s) => (
        <p key={s} className="small">
          {s}
        </p>
      ))}
    </div>
  );
}
