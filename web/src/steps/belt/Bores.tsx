/** Bores and fits: every pulley on its shaft, what to do about the bore, and what each fixing holds. */
import type { BeltPlan } from "../../api/client";
import { useBench, useShow } from "../../design/context";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TickField } from "../../fields/OtherFields";
import { number } from "../../units/format";
import { Act } from "../../kit/Act";
import drawn from "../../drawing/drawing.module.css";
import { Folded } from "../../fields/Folded";
import { Acts, Cols, Fields, Num, Part, Sheet, Table } from "../../kit/sheets";

type Fit = BeltPlan["fits"][number];

export function Bores({ plan }: { plan: BeltPlan }) {
  return (
    <Sheet title="Bores and fits">
      {plan.fits.length === 0 && (
        <p className="quiet small">No pulley of this axis sits on a shaft whose size is known.</p>
      )}
      {plan.fits.map((f) => (
        <One key={f.part} fit={f} />
      ))}
    </Sheet>
  );
}

function One({ fit }: { fit: Fit }) {
  const { session } = useBench();
  const show = useShow();
  const mm = (v: number) => show(v, "mm", 4).said;
  const nm = (v: number | null) => (v === null ? "no rating" : show(v, "N·m", 3).said);
  return (
    <Part data-fit={fit.part}>
      <Cols as="drawn" tight>
        <Section fit={fit} />
        <div>
          <h3>
            {fit.name}: <span data-fit-verdict>{fit.verdict}</span>
          </h3>
          <p className="small">
            Shaft <b className="num">{mm(fit.shaft_mm)}</b>, bore <b className="num">{mm(fit.bore_mm)}</b>,
            wall <b className="num">{mm(fit.wall_mm)}</b>.
          </p>
          <p className="small">{fit.says}</p>
          {fit.field && (
            <p>
              <Act onClick={() => session.setAll(fit.changes)}>
                {fit.field.endsWith("sleeve") ? "It gets a sleeve" : `It will be ${mm(fit.value ?? 0)}`}
              </Act>
            </p>
          )}
          {fit.ripple_mm !== null && (
            <p className="small">
              Bored off centre it ripples by <b className="num">{mm(fit.ripple_mm)}</b> at the carriage, once
              a turn.
            </p>
          )}
          <Folded
            title="Made of, true to"
            paths={["made_of", "runout_mm", "sleeve"].map((n) => `${fit.part}.${n}`)}
          >
            <Fields>
              <ChoiceField path={`${fit.part}.made_of`} />
              <NumberField path={`${fit.part}.runout_mm`} />
              <TickField path={`${fit.part}.sleeve`} />
            </Fields>
          </Folded>
        </div>
        <Table columns={["Fixing", { name: "Holds", right: true }, { name: "With margin", right: true }, ""]}>
          {fit.holds.map((h) => (
            <tr key={h.kind} data-on={h.chosen}>
              <td>
                {h.kind}
                {h.says && <div className="small quiet">{h.says}</div>}
              </td>
              <Num>{nm(h.grip_nm)}</Num>
              <Num signal={h.ratio !== null && h.ratio < 1}>
                {h.ratio === null ? "–" : `${number(h.ratio, 3)} ×`}
              </Num>
              <Acts>
                {h.chosen ? (
                  <b>taken</b>
                ) : (
                  <Act
                    aria-label={`${fit.name}: ${h.kind}`}
                    onClick={() => session.set(`${fit.part}.fixing.kind`, h.kind)}
                  >
                    Take
                  </Act>
                )}
              </Acts>
            </tr>
          ))}
        </Table>
      </Cols>
    </Part>
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
      className={drawn.bare}
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
