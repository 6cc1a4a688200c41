/** A ripple on the work: its spacing, the parts that come again at it, and what rings at its speed. */
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { ask, type Ripple as Found } from "../../api/client";
import { keyOf } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { useGo } from "../../design/go";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Fields, Num, Sheet, Table } from "../../kit/sheets";
import { number } from "../../units/format";
import css from "./tune.module.css";

const OFTEN = ["", "once", "twice", "three times"];

export function Ripple() {
  const { design } = useView();
  const { start } = useBench();
  const [spacing, setSpacing] = useState<number | null>(null);
  const [speed, setSpeed] = useState<number | null>(null);
  const body = { design, spacings_mm: [spacing], speed_mm_s: speed };
  const found = useQuery({
    queryKey: ["ripple", keyOf(design), spacing, speed],
    queryFn: ({ signal }) => ask<Found[]>("/ripple", { body, signal }),
    enabled: spacing !== null,
    retry: false,
    staleTime: Infinity,
  });
  return (
    <Sheet
      title="Ripple"
      note="measure over several waves, along the travel, and divide; the speed tells what rings"
      data-ripple
    >
      <Fields>
        <FreeNumber
          label="Spacing of the ripple"
          dimension="length"
          name="spacing"
          units={start.units}
          onValue={setSpacing}
        />
        <FreeNumber
          label="Made at a speed of"
          dimension="speed"
          name="ripple-speed"
          units={start.units}
          onValue={setSpeed}
        />
      </Fields>
      {spacing === null ? (
        <p className="quiet small">Enter a spacing; the parts that come again at it follow.</p>
      ) : (
        <Fetched of={found} what="what ripples" waiting={null}>
          {(all) => all.map((r) => <One key={r.spacing_mm} found={r} />)}
        </Fetched>
      )}
    </Sheet>
  );
}

function One({ found: { suspects, ringing } }: { found: Found }) {
  const { show } = useNumbers();
  const go = useGo();
  const unit = show(1, "mm").unit;
  const fits = suspects.some((s) => s.fits);
  return (
    <div aria-live="polite" className={css.found}>
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
