/** The shapes of a scene at one place of its travel; millimetres times a scale, y upwards. */
import type { Scene } from "../api/client";
import { pulleyOutline } from "./tooth";

type Spot = { x_mm: number; y_mm: number; dx: number; dy: number };
type Slab = Scene["slabs"][number];
type Wheel = Scene["wheels"][number];

export interface Frame {
  k: number;
  left: number;
  top: number;
}

/** Where a spot stands on the page when the point has travelled q millimetres. */
export const at = (f: Frame, s: Spot, q: number): [number, number] => [
  (s.x_mm + q * s.dx - f.left) * f.k,
  (f.top - s.y_mm - q * s.dy) * f.k,
];

/** A box around everything that the scene shows over its travel, with room for its words. */
export function bounds(scene: Scene) {
  const xs: number[] = [];
  const ys: number[] = [];
  const take = (s: Spot, rx: number, ry: number) => {
    for (const q of [0, scene.travel_mm]) {
      xs.push(s.x_mm + q * s.dx - rx, s.x_mm + q * s.dx + rx);
      ys.push(s.y_mm + q * s.dy - ry, s.y_mm + q * s.dy + ry);
    }
  };
  for (const w of scene.wheels) take(w.at, w.outside_mm, w.outside_mm);
  for (const s of scene.slabs) {
    if (!s.pivot) take(s.at, s.width_mm / 2, s.height_mm / 2);
    else {
      const far =
        Math.hypot(s.at.x_mm - s.pivot.x_mm, s.at.y_mm - s.pivot.y_mm) +
        Math.max(s.width_mm, s.height_mm) / 2;
      for (let i = 0; i <= 12; i++) {
        const a = s.angle + (s.turn * scene.travel_mm * i) / 12;
        take(
          { x_mm: s.pivot.x_mm + far * Math.cos(a), y_mm: s.pivot.y_mm + far * Math.sin(a), dx: 0, dy: 0 },
          2,
          2,
        );
      }
    }
  }
  for (const t of scene.strands)
    for (const p of t.pieces) for (const end of [p.start, p.stop]) take(end, 0, 0);
  return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
}

const FILL: Record<Slab["form"], string> = {
  rail: "var(--metal)",
  carriage: "var(--sheet)",
  motor: "none",
  frame: "var(--faint)",
  load: "var(--sheet)",
  rack: "var(--metal)",
  screw: "url(#thread)",
  arm: "var(--metal)",
  work: "var(--sheet)",
};

export function SlabShape({
  slab,
  f,
  q,
  children,
}: {
  slab: Slab;
  f: Frame;
  q: number;
  children?: React.ReactNode;
}) {
  const [x, y] = at(f, slab.at, q);
  const w = Math.max(slab.width_mm * f.k, 1.5);
  const h = Math.max(slab.height_mm * f.k, 1.5);
  const [px, py] = slab.pivot ? at(f, slab.pivot, q) : [0, 0];
  const turn = slab.pivot
    ? `rotate(${(-(slab.angle + slab.turn * q) * 180) / Math.PI} ${px} ${py})`
    : undefined;
  const light = slab.form === "rail" || slab.form === "frame";
  return (
    <g transform={turn}>
      <rect
        x={x - w / 2}
        y={y - h / 2}
        width={w}
        height={h}
        fill={FILL[slab.form]}
        stroke={light ? "var(--pencil)" : "var(--ink)"}
        strokeWidth={light ? 0.8 : 1.4}
      />
      {children}
    </g>
  );
}

function WheelShape({ wheel, f, q }: { wheel: Wheel; f: Frame; q: number }) {
  const [x, y] = at(f, wheel.at, q);
  const r = wheel.outside_mm * f.k;
  const turned = (-wheel.turn * q * 180) / Math.PI;
  const fine = wheel.teeth > 0 && r > 7;
  return (
    <g transform={`translate(${x} ${y}) rotate(${turned})`}>
      {fine ? (
        <path
          d={pulleyOutline({
            teeth: wheel.teeth,
            pitchRadius: wheel.radius_mm,
            outsideRadius: wheel.outside_mm,
            pitch: wheel.pitch_mm,
            toothHeight: wheel.tooth_mm,
            flankDeg: wheel.flank_deg ?? null,
          })}
          transform={`scale(${f.k})`}
          fill="var(--metal)"
          stroke="var(--ink)"
          strokeWidth={1 / f.k}
        />
      ) : (
        <circle
          r={Math.max(r, 1.5)}
          fill={wheel.form === "smooth" ? "var(--sheet)" : "var(--metal)"}
          stroke="var(--ink)"
        />
      )}
      {(wheel.form === "groove" || wheel.form === "drum") && (
        <circle
          r={Math.max(wheel.radius_mm * f.k, 1)}
          fill="none"
          stroke="var(--pencil)"
          strokeDasharray="4 3"
        />
      )}
      {wheel.form === "tyre" && (
        <circle r={r * 0.78} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="0.8" />
      )}
      <circle
        r={Math.max((wheel.bore_mm / 2) * f.k, 0.8)}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth="0.8"
      />
      {r > 6 && !fine && <line x1={0} x2={r * 0.7} y1={0} y2={0} stroke="var(--ink)" strokeWidth="0.9" />}
    </g>
  );
}

/** The strand as an SVG path; pieces that begin where the one before ended are joined. */
function strandPath(strand: Scene["strands"][number], f: Frame, q: number): string {
  const parts: string[] = [];
  let last = "";
  for (const p of strand.pieces) {
    const [x0, y0] = at(f, p.start, q);
    const [x1, y1] = at(f, p.stop, q);
    const from = `${x0.toFixed(2)} ${y0.toFixed(2)}`;
    const to = `${x1.toFixed(2)} ${y1.toFixed(2)}`;
    if (from !== last) parts.push(`M${from}`);
    parts.push(
      p.radius_mm > 0
        ? `A${p.radius_mm * f.k} ${p.radius_mm * f.k} 0 ${p.large ? 1 : 0} ${p.ccw ? 0 : 1} ${to}`
        : `L${to}`,
    );
    last = to;
  }
  return parts.join("");
}

function StrandShape({
  strand,
  f,
  q,
  thin,
}: {
  strand: Scene["strands"][number];
  f: Frame;
  q: number;
  thin: boolean;
}) {
  const d = strandPath(strand, f, q);
  const width = strand.form === "v" ? 5 : strand.form === "rope" ? 1.6 : 2.2;
  const dash = Math.max(strand.pitch_mm * f.k, 2.4) / 2;
  return (
    <g fill="none">
      <path d={d} stroke="var(--belt)" strokeWidth={thin ? 1.4 : width} />
      {strand.form === "toothed" && !thin && (
        <path
          d={d}
          stroke="var(--sheet)"
          strokeWidth="1"
          strokeDasharray={`${dash} ${dash}`}
          strokeDashoffset={-(strand.runs * q * f.k) % (2 * dash)}
        />
      )}
      {strand.form === "v" && (
        <path
          d={d}
          stroke="var(--sheet)"
          strokeWidth="1"
          strokeDasharray="7 7"
          strokeDashoffset={-(strand.runs * q * f.k) % 14}
        />
      )}
    </g>
  );
}

/** Everything but words. The slab that is held is drawn by its holder, between the other slabs and what turns in front of them. */
export function Shapes({
  scene,
  f,
  q,
  thin = false,
  skip,
  held,
}: {
  scene: Scene;
  f: Frame;
  q: number;
  thin?: boolean;
  skip?: Slab;
  held?: React.ReactNode;
}) {
  const under = scene.slabs.filter(
    (s) =>
      s !== skip &&
      (s.form === "rail" ||
        s.form === "frame" ||
        s.form === "rack" ||
        s.form === "screw" ||
        s.form === "motor"),
  );
  const over = scene.slabs.filter((s) => s !== skip && !under.includes(s));
  return (
    <>
      <defs>
        <pattern
          id="thread"
          width="5"
          height="40"
          patternUnits="userSpaceOnUse"
          patternTransform="skewX(-12)"
        >
          <rect width="5" height="40" fill="var(--sheet)" />
          <line x1="1" x2="1" y1="0" y2="40" stroke="var(--pencil)" />
        </pattern>
      </defs>
      {under.map((s, i) => (
        <SlabShape key={i} slab={s} f={f} q={q} />
      ))}
      {over.map((s, i) => (
        <SlabShape key={i} slab={s} f={f} q={q} />
      ))}
      {held}
      <g pointerEvents="none">
        {scene.strands.map((s, i) => (
          <StrandShape key={i} strand={s} f={f} q={q} thin={thin} />
        ))}
        {scene.wheels.map((w, i) => (
          <WheelShape key={i} wheel={w} f={f} q={q} />
        ))}
      </g>
    </>
  );
}
