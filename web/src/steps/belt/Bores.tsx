/** Bores and fits: every pulley on its shaft, what to do about the bore, and what each fixing holds. */
import type { BeltPlan } from "../../api/client";
import { useBench, useShow } from "../../design/context";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TickField } from "../../fields/OtherFields";
import { number } from "../../units/format";

type Fit = BeltPlan["fits"][number];

export function Bores({ plan }: { plan: BeltPlan }) {
  return (
    <section className="sheet">
      <h2>Bores and fits</h2>
      {plan.fits.length === 0 && (
        <p className="quiet small">No pulley of this axis sits on a shaft whose size is known.</p>
      )}
      {plan.fits.map((f) => (
        <One key={f.part} fit={f} />
      ))}
    </section>
  );
}

function One({ fit }: { fit: Fit }) {
  const { session } = useBench();
  const show = useShow();
  const mm = (v: number) => `${show(v, "mm", 4).text} ${show(v, "mm", 4).unit}`;
  const nm = (v: number | null) =>
    v === null ? "no rating" : `${show(v, "N·m", 3).text} ${show(v, "N·m", 3).unit}`;
  return (
    <div
      className="nested"
      data-fit={fit.part}
      style={{ display: "grid", gridTemplateColumns: "150px minmax(0, 1fr) minmax(0, 1fr)", gap: 16 }}
    >
      <Section fit={fit} />
      <div>
        <h3>
          {fit.name}: <span data-fit-verdict>{fit.verdict}</span>
        </h3>
        <p className="small">
          Shaft <b className="num">{mm(fit.shaft_mm)}</b>, bore <b className="num">{mm(fit.bore_mm)}</b>, wall{" "}
          <b className="num">{mm(fit.wall_mm)}</b>.
        </p>
        <p className="small">{fit.says}</p>
        {fit.field && (
          <p style={{ marginTop: 6 }}>
            <button className="act tight" onClick={() => session.setAll(fit.changes)}>
              {fit.field.endsWith("sleeve") ? "It gets a sleeve" : `It will be ${mm(fit.value ?? 0)}`}
            </button>
          </p>
        )}
        {fit.ripple_mm !== null && (
          <p className="small">
            Bored off centre it ripples by <b className="num">{mm(fit.ripple_mm)}</b> at the carriage, once a
            turn.
          </p>
        )}
        <div className="fields" style={{ marginTop: 8 }}>
          <ChoiceField path={`${fit.part}.made_of`} />
          <NumberField path={`${fit.part}.runout_mm`} />
          <TickField path={`${fit.part}.sleeve`} />
        </div>
      </div>
      <table className="rows">
        <thead>
          <tr>
            <th>Fixing</th>
            <th className="r">Holds</th>
            <th className="r">With margin</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {fit.holds.map((h) => (
            <tr key={h.kind} className={h.chosen ? "on" : ""}>
              <td>
                {h.kind}
                {h.says && <div className="small quiet">{h.says}</div>}
              </td>
              <td className="r num">{nm(h.grip_nm)}</td>
              <td className={`r num ${h.ratio !== null && h.ratio < 1 ? "signal" : ""}`}>
                {h.ratio === null ? "–" : `${number(h.ratio, 3)} ×`}
              </td>
              <td className="r">
                {h.chosen ? (
                  <b>taken</b>
                ) : (
                  <button
                    className="act tight"
                    aria-label={`${fit.name}: ${h.kind}`}
                    onClick={() => session.set(`${fit.part}.fixing.kind`, h.kind)}
                  >
                    Take
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Hub, bore and shaft from the end, to scale with one another. */
function Section({ fit }: { fit: Fit }) {
  const hub = fit.bore_mm + 2 * fit.wall_mm;
  const k = 62 / (Math.max(hub, fit.shaft_mm) / 2);
  const tight = fit.gap_mm < -0.005;
  return (
    <svg
      viewBox="-70 -70 140 140"
      className="drawing"
      style={{ background: "none" }}
      role="img"
      aria-label={`${fit.name}: hub ${hub.toFixed(1)}, bore ${fit.bore_mm}, shaft ${fit.shaft_mm} mm`}
    >
      <circle r={(hub / 2) * k} fill="var(--metal)" stroke="var(--ink)" />
      <circle r={(fit.bore_mm / 2) * k} fill="var(--sheet)" stroke="var(--ink)" />
      <circle
        r={(fit.shaft_mm / 2) * k}
        fill={tight ? "none" : "var(--faint)"}
        stroke={tight ? "var(--signal)" : "var(--pencil)"}
        strokeDasharray={tight ? "4 3" : undefined}
        strokeWidth={tight ? 2 : 1}
      />
      <path d="M-5 0H5M0 -5V5" stroke="var(--pencil)" />
    </svg>
  );
}
