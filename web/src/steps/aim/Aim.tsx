/** What the axis is for: layout, travel, moving mass, speed, forces, guide, money, assumptions. */
import { useState } from "react";
import { Modal } from "@mantine/core";
import { ask, type Axis, type LayoutRow } from "../../api/client";
import { useAxis, useChange, useLayouts } from "../../api/queries";
import { useBench, useMost, useNumbers, usePick, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { stacked } from "../../drawing/stack";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { PartForm } from "../PartForm";
import { LayoutChooser, MovingSketch } from "./LayoutChooser";

export default function Aim() {
  const guided = usePick((v) => v.report?.guided ?? true);
  const slopes = usePick((v) => v.report?.sloped ?? true);
  return (
    <>
      <div className="cols">
        <section className="sheet">
          <h2>What it is for</h2>
          <div className="fields" style={{ gridTemplateColumns: "1fr" }}>
            <TextField path="name" />
            <TextField path="aim.purpose" />
          </div>
        </section>
        <section className="sheet">
          <Layout />
        </section>
      </div>
      {guided ? <Travel /> : <FreeTravel />}
      <div className="cols">
        <section className="sheet">
          <h2>How fast, how fine</h2>
          <div className="fields">
            <NumberField path="aim.speed_mm_s" />
            <NumberField path="aim.acceleration_mm_s2" />
            <NumberField path="aim.resolution_mm" />
            <NumberField path="aim.error_mm" />
          </div>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="travel.time" label="Whole travel takes" />
            <Figure of="travel.stop" label="Stops from top speed in" />
          </div>
        </section>
        <section className="sheet">
          <h2>Against what</h2>
          <div className="fields">
            <NumberField path="aim.push_n" />
            <NumberField path="aim.push_speed_mm_s" />
            <NumberField path="aim.hold_n" />
            {slopes && <NumberField path="aim.slope_deg" />}
          </div>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="force.accelerate" label="To accelerate" />
            <Figure of="force.cruise" label="To keep moving" />
          </div>
        </section>
      </div>
      <Tally />
      <Gantry />
      <Heads />
      <div className="cols">
        {guided ? (
          <section className="sheet">
            <h2>Guide</h2>
            <div className="fields">
              <ChoiceField path="guide.kind" />
              <NumberField path="guide.friction" />
              <NumberField path="guide.drag_n" />
            </div>
          </section>
        ) : (
          <section className="sheet">
            <h2>Drag</h2>
            <div className="fields">
              <NumberField path="guide.drag_n" />
            </div>
            <p className="small quiet" style={{ marginTop: 6 }}>
              Bearings, lead pulleys, seals; the end's own drag stands in Drive.
            </p>
          </section>
        )}
        <section className="sheet">
          <h2>Money</h2>
          <div className="fields">
            <NumberField path="aim.budget" />
            <TextField path="aim.currency" />
          </div>
        </section>
      </div>
      <Riding />
      <Cautions step="aim" />
      {guided && (
        <details className="sheet">
          <summary>Wheels, rail and stand</summary>
          <PartForm path="stand" />
          <p className="small quiet" style={{ marginTop: 8 }}>
            Only what is filled in is checked: load limit of a wheel, rail between its supports, mass of a
            stand that could tip.
          </p>
        </details>
      )}
      <details className="sheet">
        <summary>Assumptions in force</summary>
        <PartForm path="assumptions" />
        <p className="small quiet" style={{ marginTop: 8 }}>
          Each one says where it comes from when you rest the pointer on it; change any of them and everything
          follows.
        </p>
      </details>
    </>
  );
}

function Layout() {
  const { session } = useBench();
  const { report } = useView();
  const layouts = useLayouts();
  const [open, setOpen] = useState(false);
  const [on, setOn] = useState(false);
  const key = report?.layout ?? "";
  const row = layouts.data?.find((l) => l.key === key);
  const take = (l: LayoutRow) => {
    const begin = l.begin as Record<string, unknown>;
    session.setAll({ chain: begin.chain, end: begin.end, sides: begin.sides ?? { kind: "one" } });
    setOpen(false);
  };
  return (
    <>
      <h2>
        Layout <span className="quiet">{row?.name.toLowerCase()}</span>{" "}
        <button className="act tight" style={{ marginLeft: "auto" }} onClick={() => setOpen(true)}>
          Change it
        </button>
      </h2>
      {row && (
        <div
          style={{ display: "grid", gridTemplateColumns: "180px 1fr", gap: 14, alignItems: "center" }}
          onPointerEnter={() => setOn(true)}
          onPointerLeave={() => setOn(false)}
        >
          {row.scene ? <MovingSketch scene={row.scene} on={on} width={180} height={84} /> : <span />}
          <p className="small">
            <b>Gives</b> {row.gives.charAt(0).toLowerCase() + row.gives.slice(1)} <b>Costs</b>{" "}
            {row.costs.charAt(0).toLowerCase() + row.costs.slice(1)}{" "}
            <span className="quiet">{row.schools}</span>
          </p>
        </div>
      )}
      <Modal opened={open} onClose={() => setOpen(false)} title="Layouts" size={940}>
        <p className="small quiet" style={{ marginBottom: 10 }}>
          Taking another layout replaces motor, chain and end; the aim and what moves stay. Undo brings the
          old ones back.
        </p>
        {open && <LayoutChooser chosen={key} choose={take} />}
      </Modal>
    </>
  );
}

/** Travel of a point that no rail leads: an arc, a lift, or none at all. */
function FreeTravel() {
  const turns = usePick((v) => "turn_deg" in v.design.end);
  return (
    <section className="sheet">
      <h2>
        Travel <span className="quiet">counted at the moving point; what limits it stands in Drive</span>
      </h2>
      <div style={{ display: "flex", gap: 26, alignItems: "end" }}>
        <div style={{ width: 170 }}>
          <NumberField path="aim.travel_mm" />
        </div>
        {turns && (
          <div style={{ width: 150 }}>
            <NumberField path="end.turn_deg" />
          </div>
        )}
        <div className="figs">
          <Figure of="travel.usable" digits={5} />
          <Figure of="joint.range" />
          <Figure of="joint.speed" />
        </div>
      </div>
    </section>
  );
}

function Gantry() {
  const kind = usePick((v) => v.design.sides?.kind ?? "one");
  const straight = usePick((v) => v.report?.straight ?? true);
  if (!straight && kind === "one") return null;
  return (
    <section className="sheet">
      <h2>
        Sides <span className="quiet">how a wide gantry is driven</span>
      </h2>
      <PartForm path="sides" />
      <div className="figs" style={{ marginTop: kind === "one" ? 0 : 12 }}>
        <Figure of="sides.twist" />
        <Figure of="sides.yaw_mm" />
        <Figure of="sides.jam" />
        <Figure of="sides.share" />
      </div>
    </section>
  );
}

function Heads() {
  const { session } = useBench();
  const { design } = useView();
  const rows = design.heads ?? [];
  const most = useMost("heads");
  return (
    <details className="sheet" open={rows.length > 0}>
      <summary>
        Heads, one at a time{" "}
        <span className="quiet" style={{ fontWeight: 400 }}>
          load cases: the worst governs, each is shown in Drive
        </span>
      </summary>
      {rows.map((_, i) => (
        <div
          key={i}
          className="fields"
          style={{
            gridTemplateColumns: "minmax(0, 1fr) 150px 150px auto",
            alignItems: "end",
            marginBottom: 8,
          }}
        >
          <TextField path={`heads.${i}.label`} />
          <NumberField path={`heads.${i}.mass_kg`} />
          <NumberField path={`heads.${i}.push_n`} />
          <button
            className="plain small"
            onClick={() =>
              session.set(
                "heads",
                rows.filter((__, j) => j !== i),
              )
            }
          >
            Remove
          </button>
        </div>
      ))}
      <button
        className="act tight"
        disabled={rows.length >= most}
        onClick={() => session.set("heads", [...rows, { label: `Head ${rows.length + 1}`, mass_kg: 0.5 }])}
      >
        Add a head
      </button>
    </details>
  );
}

/** On which axis this one rides, and what rides on it. */
function Riding() {
  const { session } = useBench();
  const { design, id } = useView();
  const axis = useAxis(id);
  const ride = useChange(
    (on: string | null) => ask<Axis>(`/axes/${id}/rides`, { method: "PUT", body: { on } }),
    "axis",
    "shelf",
  );
  const riding = design.riding ?? [];
  const still = design.still ?? [];
  if (
    !axis.data ||
    (axis.data.may_ride_on.length === 0 && riding.length === 0 && axis.data.rides_on === null)
  )
    return null;
  const known = axis.data.may_ride_on.some((n) => n.id === axis.data.rides_on);
  return (
    <section className="sheet">
      <h2>
        Axes on axes <span className="quiet">all that an axis carries is the load of the one beneath</span>
      </h2>
      <div className="fields" style={{ gridTemplateColumns: "220px minmax(0, 1fr)" }}>
        <div className="field">
          <label className="name" htmlFor="rides-on">
            This axis rides on
          </label>
          <div className="box">
            <select
              id="rides-on"
              value={axis.data.rides_on ?? ""}
              onChange={(e) =>
                ride.mutate(e.target.value || null, { onSuccess: (answer) => session.recount(answer) })
              }
            >
              <option value="">the ground</option>
              {axis.data.rides_on !== null && !known && (
                <option value={axis.data.rides_on}>an axis that rides on this one</option>
              )}
              {axis.data.may_ride_on.map((n) => (
                <option key={n.id} value={n.id}>
                  {n.name}
                </option>
              ))}
            </select>
          </div>
          {ride.error && <div className="under signal">{ride.error.message}</div>}
        </div>
        <div>
          {riding.length > 0 && (
            <>
              <h3>Rides on it</h3>
              {riding.map((m) => (
                <p key={m.label}>
                  {m.label}{" "}
                  <b className="num">
                    {(m.quantity ?? 1) > 1 && `${m.quantity} × `}
                    {number(m.mass_kg)} kg
                  </b>
                </p>
              ))}
            </>
          )}
          <h3 style={{ marginTop: riding.length > 0 ? 8 : 0 }}>
            Stands still on it, yet rides along with it{" "}
            <button
              className="plain small"
              onClick={() => session.set("still", [...still, { label: "Rail", mass_kg: 0.5, quantity: 1 }])}
            >
              add a line
            </button>
          </h3>
          {still.map((_, i) => (
            <div
              key={i}
              className="fields"
              style={{ gridTemplateColumns: "minmax(0, 1fr) 120px auto", alignItems: "end" }}
            >
              <TextField path={`still.${i}.label`} label="What" />
              <NumberField path={`still.${i}.mass_kg`} />
              <button
                className="plain small"
                onClick={() =>
                  session.set(
                    "still",
                    still.filter((__, j) => j !== i),
                  )
                }
              >
                Remove
              </button>
            </div>
          ))}
        </div>
      </div>
    </section>
  );
}

function Travel() {
  const { design, problems } = useView();
  const { find } = useNumbers();
  const g = design.guide;
  const usable = problems.length === 0 ? find("travel.usable")?.value : null;
  const pieces: [string, number, string][] = [
    ["end", g.near_mm, "var(--metal)"],
    ["over", g.overtravel_mm, "var(--faint)"],
    ["carriage", g.carriage_mm / 2, "none"],
    ["travel", Math.max(0, usable ?? 0), "travel"],
    ["carriage", g.carriage_mm / 2, "none"],
    ["over", g.overtravel_mm, "var(--faint)"],
    ["end", g.far_mm, "var(--metal)"],
  ];
  const whole = pieces.reduce((sum, [, mm]) => sum + mm, 0) || 1;
  const starts = stacked(pieces.map(([, mm]) => mm));
  return (
    <section className="sheet">
      <h2>
        Travel budget <span className="quiet">what the rail leaves to travel</span>
      </h2>
      <svg
        width="100%"
        height="36"
        viewBox="0 0 1000 36"
        preserveAspectRatio="none"
        role="img"
        aria-label={`Of ${number(g.rail_mm)} mm of rail ${number(usable)} mm are left to travel`}
        style={{ marginBottom: 8 }}
      >
        {pieces.map(([name, mm, fill], i) => {
          const x = ((starts[i] ?? 0) / whole) * 1000;
          const w = (mm / whole) * 1000;
          return fill === "travel" ? (
            <g key={i}>
              <rect
                x={x}
                y="10"
                width={w}
                height="16"
                fill="var(--sheet)"
                stroke="var(--ink)"
                strokeWidth="2"
                vectorEffect="non-scaling-stroke"
              />
              <line x1={x} x2={x + w} y1="18" y2="18" stroke="var(--ink)" vectorEffect="non-scaling-stroke" />
            </g>
          ) : (
            <rect
              key={i}
              x={x}
              y={name === "carriage" ? 13 : 10}
              width={w}
              height={name === "carriage" ? 10 : 16}
              fill={fill}
              stroke="var(--pencil)"
              strokeDasharray={name === "carriage" ? "3 2" : undefined}
              vectorEffect="non-scaling-stroke"
            />
          );
        })}
      </svg>
      <div style={{ display: "grid", gridTemplateColumns: "minmax(0,1fr) auto", gap: 20, alignItems: "end" }}>
        <div className="fields" style={{ gridTemplateColumns: "repeat(3, minmax(0, 1fr))" }}>
          <NumberField path="aim.travel_mm" />
          <NumberField path="guide.rail_mm" />
          <NumberField path="guide.carriage_mm" />
          <NumberField path="guide.near_mm" />
          <NumberField path="guide.far_mm" />
          <NumberField path="guide.overtravel_mm" />
        </div>
        <Figure of="travel.usable" digits={5} />
      </div>
    </section>
  );
}

function Tally() {
  const { session } = useBench();
  const { design } = useView();
  const rows = design.moving;
  const most = useMost("moving");
  const add = () =>
    session.set("moving", [
      ...rows,
      { label: "", mass_kg: 0.1, quantity: 1, source: { kind: "estimate", note: "" } },
    ]);
  return (
    <section className="sheet">
      <h2>
        What moves{" "}
        <span className="quiet">weigh it if you can; belts, idlers and arms are added by themselves</span>
      </h2>
      <table>
        <tbody>
          {rows.map((_, i) => (
            <tr key={i}>
              <td style={{ width: "40%" }}>
                <TextField
                  path={`moving.${i}.label`}
                  label={i === 0 ? "What moves" : `What moves, line ${i + 1}`}
                />
              </td>
              <td>
                <NumberField path={`moving.${i}.mass_kg`} />
              </td>
              <td>
                <NumberField path={`moving.${i}.quantity`} />
              </td>
              <td>
                <ChoiceField path={`moving.${i}.source.kind`} label="Known how" />
              </td>
              <td className="r">
                <button
                  className="plain small"
                  onClick={() =>
                    session.set(
                      "moving",
                      rows.filter((__, j) => j !== i),
                    )
                  }
                  disabled={rows.length === 1}
                  aria-label={`Remove line ${i + 1}`}
                >
                  Remove
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ display: "flex", alignItems: "end", gap: 26, marginTop: 10 }}>
        <button className="act tight" onClick={add} disabled={rows.length >= most}>
          Add a line
        </button>
        <div className="figs">
          <Figure of="mass.tally" label="By tally" />
          <Figure of="loop.carried" />
          <Figure of="mass.total" label="Moves in all" />
        </div>
      </div>
    </section>
  );
}
