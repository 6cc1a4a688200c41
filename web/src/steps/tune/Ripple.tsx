/** A ripple on the work: its spacing, the parts that come again at it, and what rings at its speed. */
import { Fragment, useState } from "react";
import type { Ripple as Found } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { useGo } from "../../design/go";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Fields, Fold, Line, Num, Sheet, Table } from "../../kit/sheets";
import { number } from "../../units/format";
import css from "./tune.module.css";

const OFTEN = ["", "once", "twice", "three times"];

export function Ripple() {
  const { design } = useView();
  const { start } = useBench();
  const [rows, setRows] = useState<Row[]>([EMPTY]);
  const [speed, setSpeed] = useState<number | null>(null);
  const [known, setKnown] = useState<number | null>(null);
  const [pictured, setPictured] = useState<number | null>(null);
  const scale = known !== null && pictured !== null ? known / pictured : null;
  const spacings = rows.flatMap((r) =>
    r.over !== null && r.waves !== null ? [((scale ?? 1) * r.over) / r.waves] : [],
  );
  const asked = { spacings_mm: spacings, speed_mm_s: speed };
  const found = useAsked<Found[]>("ripple", design, asked, spacings.length > 0);
  const change = (i: number, part: Partial<Row>) =>
    setRows((all) => all.map((r, j) => (j === i ? { ...r, ...part } : r)));
  return (
    <Sheet
      title="Ripple"
      note="on the work or in a picture of it, along the travel; the speed tells what rings"
      data-ripple
    >
      <Fields>
        {rows.map((_, i) => (
          <Fragment key={i}>
            <FreeNumber
              label={rows.length > 1 ? `Measured over, ${i + 1}.` : "Measured over"}
              dimension="length"
              name={i ? `spacing-${i}` : "spacing"}
              units={start.units}
              onValue={(over) => change(i, { over })}
            />
            <FreeNumber
              label="Waves in that"
              dimension="count"
              name={i ? `waves-${i}` : "waves"}
              start="1"
              units={start.units}
              onValue={(waves) => change(i, { waves })}
            />
          </Fragment>
        ))}
        <FreeNumber
          label="Made at a speed of"
          dimension="speed"
          name="ripple-speed"
          units={start.units}
          onValue={setSpeed}
        />
      </Fields>
      <Fold title="Measured in a picture" says={scale === null ? "" : `times ${number(scale, 4)}`}>
        <Fields>
          <FreeNumber
            label="A known length on the work"
            dimension="length"
            name="known"
            units={start.units}
            onValue={setKnown}
          />
          <FreeNumber
            label="The same, in the picture"
            dimension="length"
            name="pictured"
            units={start.units}
            onValue={setPictured}
          />
        </Fields>
      </Fold>
      <Line foot>
        <Act disabled={rows.length >= MOST} onClick={() => setRows((all) => [...all, EMPTY])}>
          Another spacing
        </Act>
        <span className="small quiet">
          Measure over many waves and count them: it tells parts apart that lie near.
        </span>
      </Line>
      {spacings.length === 0 ? (
        <p className="quiet small">Enter a spacing; the parts that come again at it follow.</p>
      ) : (
        <Fetched of={found} what="what ripples" waiting={null}>
          {(all) => all.map((r, i) => <One key={`${i} ${r.spacing_mm}`} found={r} titled={all.length > 1} />)}
        </Fetched>
      )}
    </Sheet>
  );
}

interface Row {
  over: number | null;
  waves: number | null;
}

const EMPTY: Row = { over: null, waves: 1 };
const MOST = 5;

function One({ found: { spacing_mm, suspects, ringing }, titled }: { found: Found; titled: boolean }) {
  const { show } = useNumbers();
  const go = useGo();
  const unit = show(1, "mm").unit;
  const fits = suspects.some((s) => s.fits);
  return (
    <div aria-live="polite" className={css.found}>
      {titled && (
        <h3>
          Every <span className="num">{show(spacing_mm, "mm", 4).said}</span>
        </h3>
      )}
      {!fits && (
        <p className="signal">
          No part of this axis comes again at that spacing{suspects.length > 0 && "; the nearest are these"}.
        </p>
      )}
      {suspects.length > 0 && (
        <Table
          dense
          columns={[
            { name: "What comes again" },
            { name: `every, ${unit}`, right: true },
            { name: "ripples in that" },
            { name: "misses by, %", right: true },
            { name: "How to prove it" },
          ]}
        >
          {suspects.map((s) => (
            <tr key={`${s.name} ${s.case}`} data-suspect={s.fits ? "fits" : "near"}>
              <td>
                {s.name}
                {s.case && <span className="quiet small"> · {s.case}</span>}
              </td>
              <Num>{show(s.spacing_mm, "mm", 4).text}</Num>
              <td>{OFTEN[s.times]}</td>
              <Num>{number(s.off * 100, 2)}</Num>
              <td className="small">{s.prove}</td>
            </tr>
          ))}
        </Table>
      )}
      {ringing && (
        <p data-ringing>
          At that speed it comes{" "}
          <b className="num" data-result="ripple.hz" data-value={ringing.hz}>
            {number(ringing.hz, 3)} times a second
          </b>
          {ringing.mode_hz && (
            <span className="num">
              {" "}
              ({ringing.mode}: {number(ringing.mode_hz, 3)} Hz)
            </span>
          )}
          . {ringing.says}{" "}
          {ringing.rings && ringing.path && (
            <Act plain onClick={() => go(ringing.path, "drive")}>
              Go to {ringing.part}
            </Act>
          )}
        </p>
      )}
    </div>
  );
}
