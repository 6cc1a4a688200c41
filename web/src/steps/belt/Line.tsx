/** The belt line: every part's height above the datum, its stack drawn to scale, and the pieces that bring it into line. */
import type { BeltPlan, LineRow } from "../../api/client";
import { useBench, useShow } from "../../design/context";
import { NumberField } from "../../fields/NumberField";
import { Act } from "../../kit/Act";
import drawn from "../../drawing/drawing.module.css";
import { Acts, Num, Sheet, Table } from "../../kit/sheets";

export function Line({ plan }: { plan: BeltPlan }) {
  const { session } = useBench();
  const show = useShow();
  const mm = (v: number | null | undefined, digits = 4) =>
    v === null || v === undefined ? "–" : show(v, "mm", digits).said;
  return (
    <Sheet
      title="Belt line"
      note={
        plan.line_datum ||
        "enter the height of each seat above a datum of your choice, and everything is brought to one line"
      }
      data-line
    >
      <Heights rows={plan.line} />
      <Table
        columns={[
          "Part",
          { name: "Seat above the datum", width: 150 },
          { name: "Belt centre", right: true },
          { name: "Off the line", right: true },
          { name: "Allowed", right: true },
          "How it comes into line",
          "",
        ]}
      >
        {plan.line.map((r) => (
          <tr key={r.field} data-line-row={r.part || r.field}>
            <td>
              {r.name}
              {r.screw && <div className="small quiet">its screw: {r.screw}</div>}
            </td>
            <td>
              <NumberField path={r.field} bare />
            </td>
            <Num>{mm(r.height_mm)}</Num>
            <Num signal={r.in_line === false} data-off={r.off_mm ?? ""}>
              {r.off_mm === null
                ? "–"
                : `${r.off_mm > 0.0005 ? "+" : r.off_mm < -0.0005 ? "−" : ""}${mm(Math.abs(r.off_mm), 3)}`}
            </Num>
            <Num>{mm(r.allowed_mm, 2)}</Num>
            <td className="small">
              {r.says}
              {r.proposed.length > 0 && (
                <div>
                  <b>{r.proposed.map((p) => `${p.quantity} × ${p.label}`).join(", ")}</b>
                </div>
              )}
              {r.stack.length > 0 && (
                <div className="quiet">
                  under it now: {r.stack.map((p) => `${p.quantity} × ${p.label}`).join(", ")}
                </div>
              )}
            </td>
            <Acts>
              {Object.keys(r.change).length > 0 && (
                <Act onClick={() => session.setAll(r.change)} aria-label={`Bring the ${r.name} into line`}>
                  {r.proposed.length ? "Put them under it" : "Do so"}
                </Act>
              )}
            </Acts>
          </tr>
        ))}
      </Table>
    </Sheet>
  );
}

const HIGH = 150;

/** All parts beside one another with their stacks, and the line across. */
function Heights({ rows }: { rows: readonly LineRow[] }) {
  const show = useShow();
  const known = rows.filter((r) => r.height_mm !== null && r.seat_mm !== null);
  if (known.length === 0) return null;
  const line = known.map((r) => r.height_mm! - (r.off_mm ?? 0))[0]!;
  const low = Math.min(...known.map((r) => r.seat_mm!)) - 3;
  const high = Math.max(...known.map((r) => r.height_mm! + r.width_mm / 2), line) + 3;
  const k = Math.min((HIGH - 26) / (high - low), 6);
  const y = (mm: number) => 12 + (high - mm) * k;
  const step = 860 / known.length;
  return (
    <svg
      className={drawn.bare}
      viewBox={`0 0 860 ${HIGH}`}
      role="img"
      aria-label={`Heights of ${known.map((r) => r.name).join(", ")} against the belt line`}
    >
      {known.map((r, i) => {
        const x = step * (i + 0.5);
        const seat = r.seat_mm!;
        const half = Math.max((r.width_mm * k) / 2, 2);
        const slabs = r.stack.flatMap((p) => Array.from({ length: Math.min(p.quantity, 40) }, () => p));
        const free = r.height_mm! - r.width_mm / 2;
        const top = (j: number) => seat + slabs.slice(0, j + 1).reduce((sum, p) => sum + p.thickness_mm, 0);
        return (
          <g key={r.field}>
            <line x1={x - 46} x2={x + 46} y1={y(seat)} y2={y(seat)} stroke="var(--pencil)" strokeWidth="3" />
            {slabs.map((p, j) => (
              <rect
                key={j}
                x={x - 11}
                y={y(top(j))}
                width={22}
                height={Math.max(p.thickness_mm * k, 0.8)}
                fill="var(--faint)"
                stroke="var(--ink)"
                strokeWidth="0.6"
              />
            ))}
            {slabs.length === 0 && free > seat + 0.2 && (
              <line x1={x} x2={x} y1={y(seat)} y2={y(free)} stroke="var(--ink)" strokeDasharray="2 2" />
            )}
            <rect
              x={x - 22}
              y={y(r.height_mm!) - half}
              width={44}
              height={2 * half}
              fill={r.in_line === false ? "var(--signal-paper)" : "var(--metal)"}
              stroke={r.in_line === false ? "var(--signal)" : "var(--ink)"}
            />
            <line
              x1={x - 30}
              x2={x + 30}
              y1={y(r.height_mm!)}
              y2={y(r.height_mm!)}
              stroke="var(--ink)"
              strokeDasharray="8 2 2 2"
              strokeWidth="0.8"
            />
            <text x={x} y={HIGH - 3} textAnchor="middle" fontSize="11">
              {r.name}{" "}
              {r.off_mm === null || Math.abs(r.off_mm) < 0.0005
                ? ""
                : `${r.off_mm > 0 ? "+" : "−"}${show(Math.abs(r.off_mm), "mm", 3).said}`}
            </text>
          </g>
        );
      })}
      <line x1="0" x2="860" y1={y(line)} y2={y(line)} stroke="var(--belt)" strokeWidth="1.4" />
      <text x="4" y={y(line) - 4} fontSize="10.5">
        belt line, {show(line, "mm", 4).said}
      </text>
    </svg>
  );
}
