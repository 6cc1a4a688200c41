/** A small true-scale drawing of a carriage loop, the same scale for every axis of a machine. */
import type { components } from "../api/schema.gen";

export function Sketch({ sketch: s, longest }: { sketch: components["schemas"]["Sketch"]; longest: number }) {
  const width = 270;
  const k = (width - 16) / (longest * 1.04);
  const x = (mm: number) => 8 + mm * k;
  const r1 = Math.max((s.pulley_mm / 2) * k, 2.5);
  const r2 = Math.max((s.idler_mm / 2) * k, 2.5);
  const middle = (s.carriage_from_mm + s.carriage_to_mm) / 2;
  return (
    <svg width={width} height="34" viewBox={`0 0 ${width} 34`} role="img" aria-label={`Sketch: ${Math.round(s.centre_mm)} mm from motor to idler`} style={{ display: "block" }}>
      <rect x={x(s.rail_from_mm)} y="22" width={(s.rail_to_mm - s.rail_from_mm) * k} height="3.5" fill="var(--metal)" stroke="var(--pencil)" strokeWidth="0.7" />
      <path d={`M${x(0)} ${12 - r1}L${x(s.centre_mm)} ${12 - r2}A${r2} ${r2} 0 0 1 ${x(s.centre_mm)} ${12 + r2}L${x(0)} ${12 + r1}A${r1} ${r1} 0 0 1 ${x(0)} ${12 - r1}`} fill="none" stroke="var(--belt)" strokeWidth="1.5" />
      <rect x={x(0) - 5} y="7" width="10" height="10" fill="none" stroke="var(--ink)" />
      <circle cx={x(s.centre_mm)} cy="12" r="1" fill="var(--ink)" />
      <rect x={x(middle) - Math.max(s.carriage_mm * k, 6) / 2} y="8" width={Math.max(s.carriage_mm * k, 6)} height="14" fill="var(--sheet)" stroke="var(--ink)" />
      <line x1={x(s.carriage_from_mm)} x2={x(s.carriage_to_mm)} y1="31" y2="31" stroke="var(--pencil)" />
      {[s.carriage_from_mm, s.carriage_to_mm].map((p) => <line key={p} x1={x(p)} x2={x(p)} y1="28.5" y2="33.5" stroke="var(--pencil)" />)}
    </svg>
  );
}
