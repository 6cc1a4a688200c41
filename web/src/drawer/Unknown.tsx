/** A motor of unknown make: what it may be, from what can be seen and measured, and into the drawer with the safe end of each range. */
import { useState } from "react";
import { Modal } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { ask, type UnknownMotor } from "../api/client";
import { useChange, useStart } from "../api/queries";
import { Refused } from "../steps/drive/Refused";
import { number } from "../units/format";

const FIELDS = [
  ["length_mm", "Length of the body", "mm"],
  ["coil_ohm", "Ohms across one coil", "Ω"],
  ["shaft_mm", "Shaft", "mm"],
] as const;
type Field = (typeof FIELDS)[number][0];

export function Unknown() {
  const [open, setOpen] = useState(false);
  const frames = Object.entries(useStart().data?.frames ?? {});
  const [frame, setFrame] = useState("NEMA 17");
  const [wires, setWires] = useState(4);
  const [typed, setTyped] = useState<Record<Field, string>>({
    length_mm: "40",
    coil_ohm: "1.6",
    shaft_mm: "5",
  });
  const numbers = Object.fromEntries(FIELDS.map(([f]) => [f, Number(typed[f].replace(",", "."))])) as Record<
    Field,
    number
  >;
  const wrong = FIELDS.filter(([f]) => !(numbers[f] > 0)).map(([f]) => f);
  const work = useMutation({
    mutationFn: () => ask<UnknownMotor>("/drawer/unknown", { body: { frame, wires, ...numbers } }),
  });
  const keep = useChange(
    (m: UnknownMotor) =>
      ask("/drawer", {
        body: {
          kind: "stepper",
          name: m.name,
          data: m.data,
          quantity: 1,
          source_kind: "estimate",
          source: m.source,
        },
      }),
    "drawer",
    "belt",
  );
  const found = work.data;
  return (
    <>
      <button className="act tight" onClick={() => setOpen(true)}>
        A motor of unknown make…
      </button>
      <Modal opened={open} onClose={() => setOpen(false)} title="A motor of unknown make" size="lg">
        <div data-unknown>
          <p className="quiet small">
            Measure the flange and the body without its shaft; put an ohmmeter across two wires that show a
            few ohms. With six wires take a middle tap and one end.
          </p>
          <div className="cols three" style={{ gap: "2px 16px", marginTop: 6 }}>
            <div className="field text">
              <label className="name" htmlFor="u-frame">
                Frame, side of the flange
              </label>
              <div className="box">
                <select id="u-frame" value={frame} onChange={(e) => setFrame(e.target.value)}>
                  {frames.map(([f, side]) => (
                    <option key={f} value={f}>
                      {f}, {side} mm
                    </option>
                  ))}
                </select>
              </div>
            </div>
            {FIELDS.map(([f, name, unit]) => (
              <div key={f} className={`field ${wrong.includes(f) ? "bad" : ""}`}>
                <label className="name" htmlFor={`u-${f}`}>
                  {name}
                </label>
                <div className="box">
                  <input
                    id={`u-${f}`}
                    value={typed[f]}
                    inputMode="decimal"
                    onChange={(e) => setTyped((t) => ({ ...t, [f]: e.target.value }))}
                  />
                  <span className="unit">{wrong.includes(f) ? "a number above 0" : unit}</span>
                </div>
              </div>
            ))}
            <div className="field text">
              <label className="name" htmlFor="u-wires">
                Wires
              </label>
              <div className="box">
                <select id="u-wires" value={wires} onChange={(e) => setWires(Number(e.target.value))}>
                  {[4, 5, 6, 8].map((n) => (
                    <option key={n}>{n}</option>
                  ))}
                </select>
              </div>
            </div>
          </div>
          <p style={{ margin: "8px 0" }}>
            <button
              className="act tight main"
              disabled={wrong.length > 0 || work.isPending}
              onClick={() => work.mutate()}
            >
              What may it be?
            </button>
          </p>
          <Refused error={work.error} />
          {found && (
            <>
              <table className="wide rows">
                <thead>
                  <tr>
                    <th>{found.name}</th>
                    <th className="r">Lowest</th>
                    <th className="r">Likely</th>
                    <th className="r">Highest</th>
                    <th className="r">On the safe side</th>
                  </tr>
                </thead>
                <tbody>
                  {found.ranges.map((r) => (
                    <tr key={r.name} data-range={r.name}>
                      <td>{r.label}</td>
                      {[r.low, r.likely, r.high, r.cautious].map((v, i) => (
                        <td key={i} className="r num">
                          {number(v, 3)} {r.unit}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
              {found.says.map((s) => (
                <p key={s} className="small" style={{ marginTop: 4 }}>
                  {s}
                </p>
              ))}
              <p style={{ marginTop: 10 }}>
                <button
                  className="act tight main"
                  disabled={keep.isPending}
                  onClick={() => keep.mutate(found, { onSuccess: () => setOpen(false) })}
                >
                  Put it in the drawer with the safe values
                </button>
              </p>
              <Refused error={keep.error} />
            </>
          )}
        </div>
      </Modal>
    </>
  );
}
