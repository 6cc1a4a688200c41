/** Whether the belt runs true: flanges, faces, bends, clearances; and what stands near it. */
import type { BeltPlan } from "../../api/client";
import { useBench, useNumbers, usePick, useShow } from "../../design/context";
import { NumberField } from "../../fields/NumberField";
import { TextField, TickField } from "../../fields/OtherFields";
import { VerdictMark } from "../../frame/verdict";
import { number } from "../../units/format";

export function Running({ plan, open }: { plan: BeltPlan; open: boolean }) {
  const { report } = useNumbers();
  const show = useShow();
  const rungs = (report?.ladder ?? []).filter((r) => r.section === "running");
  const said = (v: number | null, unit: string) =>
    v === null ? "–" : `${show(v, unit, 3).text} ${show(v, unit, 3).unit}`;
  return (
    <section className="sheet">
      <h2>
        Running true <span className="quiet">each line is a rung of the ladder too, and opens there</span>
      </h2>
      <table className="rows">
        <thead>
          <tr>
            <th>Check</th>
            <th className="r">Asked</th>
            <th className="r">There is</th>
            <th className="r">Ratio</th>
            <th>Verdict</th>
            <th>If it is short</th>
          </tr>
        </thead>
        <tbody>
          {rungs.map((r) => (
            <tr key={r.key} data-check={r.key}>
              <td>{r.label}</td>
              <td className="r num">{said(r.demand, r.unit)}</td>
              <td className="r num">{said(r.capacity, r.unit)}</td>
              <td className="r num">{r.ratio === null ? "–" : `${number(r.ratio, 3)} ×`}</td>
              <td>
                <VerdictMark verdict={r.verdict} />
              </td>
              <td className="small quiet">
                {r.verdict === "holds" || r.verdict === "no demand" ? "" : r.says}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open && <Nearby />}
      {plan.belts.map((b, i) => (
        <details key={i} className="nested">
          <summary>Threading card: {b.name}</summary>
          <ol className="small" style={{ listStyle: "none" }}>
            {b.threading.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </ol>
        </details>
      ))}
    </section>
  );
}

function Nearby() {
  const { session } = useBench();
  const near = usePick((v) => ("near" in v.design.end ? (v.design.end.near as unknown[]) : undefined)) ?? [];
  const slot = usePick((v) => "slot_mm" in v.design.end);
  return (
    <div className="nested">
      <h3 style={{ display: "flex" }}>
        What the belt must stay clear of{" "}
        <button
          className="act tight"
          style={{ marginLeft: "auto" }}
          onClick={() => session.set("end.near", [...near, { label: near.length ? "Thing" : "Wheel" }])}
        >
          Add a thing near the belt
        </button>
      </h3>
      {slot && (
        <div style={{ maxWidth: 230, marginBottom: 8 }}>
          <NumberField path="end.slot_mm" />
        </div>
      )}
      {near.length === 0 && (
        <p className="small quiet">
          Rail, wheels, brackets, screw heads: give their place and size in the drawing, and the least air
          beside both runs is worked out over the travel.
        </p>
      )}
      {near.map((_, i) => (
        <div className="fields" key={i} style={{ marginBottom: 8 }}>
          <TextField path={`end.near.${i}.label`} />
          <NumberField path={`end.near.${i}.x_mm`} />
          <NumberField path={`end.near.${i}.y_mm`} />
          <NumberField path={`end.near.${i}.width_mm`} />
          <NumberField path={`end.near.${i}.height_mm`} />
          <TickField path={`end.near.${i}.rides`} />
          <button
            className="plain"
            onClick={() =>
              session.set(
                "end.near",
                near.filter((__, j) => j !== i),
              )
            }
          >
            Take it away
          </button>
        </div>
      ))}
    </div>
  );
}
