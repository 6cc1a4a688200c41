/** What the axis is for: layout, travel, moving mass, speed, forces, guide, money, assumptions. */
import { useBench, useNumbers, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { stacked } from "../../drawing/stack";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { LayoutSketch } from "./LayoutSketch";

const ASSUMPTIONS = [
  "efficiency_loop", "damping", "slack_keep", "strain_limit", "teeth_full", "tilt_limit", "bearing_depth_mm", "margin_torque", "margin_belt", "margin_grip", "margin_error", "margin_other",
];

export default function Aim() {
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
          <h2>Layout <span className="quiet">carriage loop</span></h2>
          <div style={{ display: "grid", gridTemplateColumns: "190px 1fr", gap: 14, alignItems: "center" }}>
            <LayoutSketch />
            <p className="small">The motor stays still, the belt ends sit on the carriage. <b>Gives</b> a light carriage and no moving motor cable. <b>Costs</b> a belt twice as long as the axis, which gives most at the far end.</p>
          </div>
        </section>
      </div>
      <Travel />
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
            <NumberField path="aim.slope_deg" />
          </div>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="force.accelerate" label="To accelerate" />
            <Figure of="force.cruise" label="To keep moving" />
          </div>
        </section>
      </div>
      <Tally />
      <div className="cols">
        <section className="sheet">
          <h2>Guide</h2>
          <div className="fields">
            <ChoiceField path="guide.kind" />
            <NumberField path="guide.friction" />
            <NumberField path="guide.drag_n" />
          </div>
        </section>
        <section className="sheet">
          <h2>Money</h2>
          <div className="fields">
            <NumberField path="aim.budget" />
            <TextField path="aim.currency" />
          </div>
        </section>
      </div>
      <Cautions step="aim" />
      <details className="sheet">
        <summary>Assumptions in force</summary>
        <div className="fields">{ASSUMPTIONS.map((a) => <NumberField key={a} path={`assumptions.${a}`} />)}</div>
        <p className="small quiet" style={{ marginTop: 8 }}>Each one says where it comes from when you rest the pointer on it; change any of them and everything follows.</p>
      </details>
    </>
  );
}

function Travel() {
  const { design, problems } = useView();
  const { find } = useNumbers();
  const g = design.guide;
  const usable = problems.length === 0 ? find("travel.usable")?.value : null;
  const pieces: [string, number, string][] = [
    ["end", g.near_mm, "var(--metal)"], ["over", g.overtravel_mm, "var(--faint)"], ["carriage", g.carriage_mm / 2, "none"],
    ["travel", Math.max(0, usable ?? 0), "travel"], ["carriage", g.carriage_mm / 2, "none"], ["over", g.overtravel_mm, "var(--faint)"], ["end", g.far_mm, "var(--metal)"],
  ];
  const whole = pieces.reduce((sum, [, mm]) => sum + mm, 0) || 1;
  const starts = stacked(pieces.map(([, mm]) => mm));
  return (
    <section className="sheet">
      <h2>Travel budget <span className="quiet">what the rail leaves to travel</span></h2>
      <svg width="100%" height="36" viewBox="0 0 1000 36" preserveAspectRatio="none" role="img" aria-label={`Of ${number(g.rail_mm)} mm of rail ${number(usable)} mm are left to travel`} style={{ marginBottom: 8 }}>
        {pieces.map(([name, mm, fill], i) => {
          const x = ((starts[i] ?? 0) / whole) * 1000;
          const w = (mm / whole) * 1000;
          return fill === "travel" ? (
            <g key={i}><rect x={x} y="10" width={w} height="16" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" vectorEffect="non-scaling-stroke" /><line x1={x} x2={x + w} y1="18" y2="18" stroke="var(--ink)" vectorEffect="non-scaling-stroke" /></g>
          ) : (
            <rect key={i} x={x} y={name === "carriage" ? 13 : 10} width={w} height={name === "carriage" ? 10 : 16} fill={fill} stroke="var(--pencil)" strokeDasharray={name === "carriage" ? "3 2" : undefined} vectorEffect="non-scaling-stroke" />
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
  const add = () => session.set("moving", [...rows, { label: "", mass_kg: 0.1, quantity: 1, source: { kind: "estimate", note: "" } }]);
  return (
    <section className="sheet">
      <h2>What moves <span className="quiet">weigh it if you can; belt and idler are added by themselves</span></h2>
      <table>
        <tbody>
          {rows.map((_, i) => (
            <tr key={i}>
              <td style={{ width: "40%" }}><TextField path={`moving.${i}.label`} label={i === 0 ? "What moves" : `What moves, line ${i + 1}`} /></td>
              <td><NumberField path={`moving.${i}.mass_kg`} /></td>
              <td><NumberField path={`moving.${i}.quantity`} /></td>
              <td><ChoiceField path={`moving.${i}.source.kind`} label="Known how" /></td>
              <td className="r"><button className="plain small" onClick={() => session.set("moving", rows.filter((__, j) => j !== i))} disabled={rows.length === 1} aria-label={`Remove line ${i + 1}`}>Remove</button></td>
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ display: "flex", alignItems: "end", gap: 26, marginTop: 10 }}>
        <button className="act tight" onClick={add} disabled={rows.length >= 60}>Add a line</button>
        <div className="figs"><Figure of="mass.tally" label="By tally" /><Figure of="loop.carried" label="Belt and idler" /><Figure of="mass.total" label="Moves in all" /></div>
      </div>
    </section>
  );
}
