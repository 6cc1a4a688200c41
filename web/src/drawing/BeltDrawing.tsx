/** The belt path to true scale with the carriage to drag along its travel; and the drive pulley with its teeth, enlarged. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useReducedMotion } from "@mantine/hooks";
import type { BeltPath } from "../api/client";
import { useNumbers, useSystem } from "../design/context";
import { number } from "../units/format";
import { pulleyOutline } from "./tooth";

const WIDTH = 860;
const HEIGHT = 128;
const BASE = 50;

export function BeltDrawing({ path }: { path: BeltPath }) {
  const { report, show } = useNumbers();
  const [system] = useSystem();
  const still = useReducedMotion();
  const [share, setShare] = useState(0.35);
  const holding = useRef(false);
  const svg = useRef<SVGSVGElement>(null);
  const [drive, idler] = path.wheels;
  if (!drive || !idler) return null;
  const left = Math.min(-drive.pitch_radius_mm * 2.2, path.rail_from_mm);
  const right = Math.max(idler.x_mm + idler.pitch_radius_mm * 2.2, path.rail_to_mm);
  const k = (WIDTH - 40) / (right - left);
  const x = (mm: number) => 20 + (mm - left) * k;
  const travel = path.carriage_to_mm - path.carriage_from_mm;
  const at = path.carriage_from_mm + share * travel;
  const r1 = drive.pitch_radius_mm * k;
  const r2 = idler.pitch_radius_mm * k;
  const y = BASE;
  const move = (e: PointerEvent) => {
    if (!holding.current || !svg.current) return;
    const box = svg.current.getBoundingClientRect();
    const mm = ((e.clientX - box.left) * (WIDTH / box.width) - 20) / k + left;
    setShare(Math.min(1, Math.max(0, (mm - path.carriage_from_mm) / travel)));
  };
  const key = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10, Home: -1e9, End: 1e9 }[e.key];
    if (!by) return;
    e.preventDefault();
    setShare((s) => Math.min(1, Math.max(0, s + by * 0.01)));
  };
  const half = path.clamp_gap_mm / 2;
  const length = (mm: number) => {
    const got = show(mm, "mm", 4);
    return `${got.text} ${got.unit}`;
  };
  const along = report?.along;
  const index = along ? Math.round(share * (along.position_mm.length - 1)) : 0;
  const stiffness = along ? show(along.stiffness_n_mm[index], "N/mm") : null;
  const run1 = at - half;
  const run2 = 2 * idler.x_mm - at - half;
  // The belt's dashes are drawn at tooth pitch where the scale lets them be seen, and move with the carriage.
  const dash = Math.max(path.pitch_mm * k, 2.4) / 2;
  const bar = niceBar(right - left);
  return (
    <figure>
      <svg ref={svg} className="drawing" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} onPointerMove={move} onPointerUp={() => (holding.current = false)} role="group" aria-label="Belt path to true scale">
        <rect x={x(path.rail_from_mm)} y={y + Math.max(r1, r2) + 11} width={(path.rail_to_mm - path.rail_from_mm) * k} height="7" fill="var(--metal)" stroke="var(--pencil)" strokeWidth="0.8" />
        <g fill="none" stroke="var(--belt)" strokeWidth="2.2">
          <path d={`M${x(at - half)} ${y + r1}L${x(0)} ${y + r1}A${r1} ${r1} 0 0 1 ${x(0)} ${y - r1}L${x(idler.x_mm)} ${y - r2}A${r2} ${r2} 0 0 1 ${x(idler.x_mm)} ${y + r2}L${x(at + half)} ${y + r2}`} />
          <path d={`M${x(at - half)} ${y + r1}L${x(0)} ${y + r1}A${r1} ${r1} 0 0 1 ${x(0)} ${y - r1}L${x(idler.x_mm)} ${y - r2}A${r2} ${r2} 0 0 1 ${x(idler.x_mm)} ${y + r2}L${x(at + half)} ${y + r2}`} strokeDasharray={`${dash} ${dash}`} strokeDashoffset={still ? 0 : (at * k) % (2 * dash)} stroke="var(--sheet)" strokeWidth="1" />
        </g>
        <circle cx={x(0)} cy={y} r={drive.outside_radius_mm * k} fill="var(--metal)" stroke="var(--ink)" />
        <circle cx={x(0)} cy={y} r={Math.max((drive.bore_mm / 2) * k, 0.8)} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="0.8" />
        <circle cx={x(idler.x_mm)} cy={y} r={idler.outside_radius_mm * k} fill="var(--sheet)" stroke="var(--ink)" />
        <circle cx={x(idler.x_mm)} cy={y} r="1.2" fill="var(--ink)" />
        <line x1={x(at)} x2={x(at)} y1={y - 4} y2={HEIGHT - 27} stroke="var(--pencil)" strokeDasharray="2 3" />
        <g className="grab" role="slider" tabIndex={0} aria-label="Carriage along the travel" aria-valuemin={0} aria-valuemax={Math.round(travel)} aria-valuenow={Math.round(share * travel)} aria-valuetext={`${length(share * travel)} from the motor end`} onKeyDown={key} onPointerDown={(e) => ((holding.current = true), e.currentTarget.setPointerCapture(e.pointerId))}>
          <rect x={x(at - path.carriage_mm / 2)} y={y + Math.max(r1, r2) - 6} width={path.carriage_mm * k} height="17" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6" />
          <path d={`M${x(at) - 4} ${y + Math.max(r1, r2) + 2.5}h8M${x(at) - 4} ${y + Math.max(r1, r2) + 2.5}l3 -3m-3 3l3 3M${x(at) + 4} ${y + Math.max(r1, r2) + 2.5}l-3 -3m3 3l-3 3`} stroke="var(--ink)" fill="none" />
        </g>
        <g stroke="var(--pencil)" strokeWidth="0.8">
          <line x1={x(path.carriage_from_mm)} x2={x(path.carriage_to_mm)} y1={HEIGHT - 27} y2={HEIGHT - 27} />
          {[path.carriage_from_mm, path.carriage_to_mm].map((mm) => <line key={mm} x1={x(mm)} x2={x(mm)} y1={HEIGHT - 31} y2={HEIGHT - 23} />)}
        </g>
        <text x={x((path.carriage_from_mm + path.carriage_to_mm) / 2)} y={HEIGHT - 14} textAnchor="middle" fontSize="11">usable travel {length(travel)}</text>
        <text x={x(0)} y={12} textAnchor="middle" fontSize="11">motor</text>
        <text x={x(idler.x_mm)} y={12} textAnchor="middle" fontSize="11">idler</text>
        <text x={x(idler.x_mm / 2)} y={y - Math.max(r1, r2) - 7} textAnchor="middle" fontSize="11">centre distance {length(idler.x_mm)}</text>
        <g stroke="var(--ink)"><line x1={20} x2={20 + bar * k} y1={HEIGHT - 5} y2={HEIGHT - 5} strokeWidth="2" /></g>
        <text x={26 + bar * k} y={HEIGHT - 2} fontSize="10">{length(bar)} to scale</text>
      </svg>
      <figcaption className="small" style={{ display: "flex", gap: 18, flexWrap: "wrap", padding: "6px 2px 0" }} aria-live="off">
        <span>Carriage at <b className="num">{length(share * travel)}</b></span>
        <span>run 1 <b className="num">{length(run1)}</b></span>
        <span>run 2 <b className="num">{length(run2)}</b></span>
        {stiffness && <span title={system === "metric" ? "nearest of 25 places worked out along the travel" : undefined}>stiffness here <b className="num">{stiffness.text} {stiffness.unit}</b></span>}
        <span className="quiet">drag the carriage, or use ← →</span>
      </figcaption>
    </figure>
  );
}

function niceBar(span: number) {
  const raw = span / 8;
  const size = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((f) => f * size).find((v) => v >= raw) ?? size;
}

/** The drive pulley enlarged, with its true number of teeth and the belt in mesh. */
export function PulleyDetail({ path }: { path: BeltPath }) {
  const wheel = path.wheels[0];
  if (!wheel || wheel.teeth === 0) return null;
  const size = wheel.pitch_radius_mm + path.thickness_mm + 2;
  const r = wheel.pitch_radius_mm;
  const teeth = { teeth: wheel.teeth, pitchRadius: r, outsideRadius: wheel.outside_radius_mm, pitch: path.pitch_mm, toothHeight: path.tooth_height_mm, flankDeg: path.flank_deg };
  const back = path.thickness_mm - path.tooth_height_mm;
  const outer = wheel.outside_radius_mm + back;
  return (
    <svg className="drawing" viewBox={`${-size} ${-size} ${size + r * 3.75} ${size * 2}`} style={{ maxHeight: 170 }} role="img" aria-label={`Drive pulley, ${wheel.teeth} teeth, ${wheel.teeth_meshed} in mesh`}>
      <path d={pulleyOutline(teeth)} transform="rotate(90)" fill="var(--metal)" stroke="var(--ink)" strokeWidth={r / 90} />
      <circle r={wheel.bore_mm / 2} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={r / 90} />
      <circle r={r} fill="none" stroke="var(--pencil)" strokeWidth={r / 140} strokeDasharray={`${r / 8} ${r / 14}`} />
      <path d={`M${r * 3.7} ${-(wheel.outside_radius_mm + back / 2)}L0 ${-(wheel.outside_radius_mm + back / 2)}A${outer - back / 2} ${outer - back / 2} 0 0 0 0 ${wheel.outside_radius_mm + back / 2}L${r * 3.7} ${wheel.outside_radius_mm + back / 2}`} fill="none" stroke="var(--belt)" strokeWidth={back} opacity="0.9" />
      <text x={r * 1.3} y={-r * 0.3} fontSize={r * 0.19}>pitch ⌀ {number(2 * r, 5)} mm</text>
      <text x={r * 1.3} y={r * 0.06} fontSize={r * 0.19}>outside ⌀ {number(2 * wheel.outside_radius_mm, 5)} mm</text>
      <text x={r * 1.3} y={r * 0.42} fontSize={r * 0.19}>{wheel.teeth_meshed} of {wheel.teeth} in mesh</text>
    </svg>
  );
}
