/** The tensioner's travel as a ruler: slack, stretch, run-in, removal, and where the thread ends. */
import { useNumbers, useView } from "../../design/context";
import { stacked } from "../../drawing/stack";
import type { Loop } from "../../api/client";

export function TensionerRuler({ runs }: { runs: number }) {
  const { find, show } = useNumbers();
  const { design } = useView();
  const end = design.end as Loop;
  const value = (key: string) => find(key)?.value ?? 0;
  const pieces = [
    { name: "removal", mm: end.tensioner.removal_mm / runs, fill: "none" },
    { name: "fitting slack", mm: value("belt.fit_slack") / runs, fill: "var(--faint)" },
    { name: "stretch", mm: value("belt.stretch") / runs, fill: "var(--metal)" },
    { name: "run-in", mm: end.tensioner.run_in_mm / runs, fill: "var(--hair)" },
  ];
  const needs = pieces.reduce((sum, p) => sum + p.mm, 0);
  const travel = end.tensioner.travel_mm;
  const whole = Math.max(needs, travel, 1) * 1.06;
  const x = (mm: number) => (mm / whole) * 860;
  const starts = stacked(pieces.map((p) => p.mm));
  const short = travel < needs;
  const text = (mm: number) => `${show(mm, "mm").text} ${show(mm, "mm").unit}`;
  return (
    <>
    <p className="small" style={{ display: "flex", gap: 18, flexWrap: "wrap" }}>
      {pieces.map((p) => <span key={p.name}><svg width="14" height="11" aria-hidden="true"><rect width="14" height="11" fill={p.fill} stroke="var(--ink)" /></svg> {p.name} <b className="num">{text(p.mm)}</b></span>)}
    </p>
    <svg viewBox="0 12 880 54" width="100%" role="img" aria-label={`The tensioner needs ${needs.toFixed(1)} mm and has ${travel} mm`} className="drawing" style={{ background: "none" }}>
      {pieces.map((p, i) => {
        const at = x(starts[i] ?? 0);
        const w = x(p.mm);
        return (
          <g key={p.name}>
            <rect x={at + 4} y="18" width={w} height="15" fill={p.fill} stroke="var(--ink)" />
          </g>
        );
      })}
      <line x1="4" x2={x(travel) + 4} y1="42" y2="42" stroke={short ? "var(--signal)" : "var(--ink)"} strokeWidth="3" />
      <line x1={x(travel) + 4} x2={x(travel) + 4} y1="15" y2="48" stroke={short ? "var(--signal)" : "var(--ink)"} strokeWidth="2" />
      <text x={Math.min(x(travel) + 4, 872)} y="61" fontSize="11.5" textAnchor={travel / whole > 0.25 ? "end" : "start"} style={short ? { fill: "var(--signal)" } : undefined}>thread ends at {text(travel)}; needs {text(needs)}</text>
    </svg>
    </>
  );
}
