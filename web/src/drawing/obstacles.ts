/** What of a scene stands in the way of words: its belts, wheels and the outlines of its slabs, on the page. */
import type { Scene } from "../api/client";
import type { Ring, Segment } from "./labels";
import { at, type Frame } from "./shapes";

export function linesOf(scene: Scene, f: Frame, q: number): Segment[] {
  return [
    ...scene.strands.flatMap((s) => s.pieces.flatMap((p) => pieceLines(p, f, q))),
    ...scene.slabs.flatMap((s) => slabLines(s, f, q)),
  ];
}

export const ringsOf = (scene: Scene, f: Frame, q: number): Ring[] =>
  scene.wheels.map((w) => {
    const [x, y] = at(f, w.at, q);
    return { x, y, r: Math.max(w.outside_mm * f.k, 2) };
  });

type Piece = Scene["strands"][number]["pieces"][number];
const STEPS = 12; // of an arc

function pieceLines(p: Piece, f: Frame, q: number): Segment[] {
  const [x0, y0] = at(f, p.start, q);
  const [x1, y1] = at(f, p.stop, q);
  if (p.radius_mm <= 0) return [[x0, y0, x1, y1]];
  const points = arc([x0, y0], [x1, y1], p.radius_mm * f.k, p.large, !p.ccw);
  return points.slice(1).map((to, i) => [...points[i]!, ...to] as const);
}

type Point = readonly [number, number];

/** Points of an arc from one place to another, turning as an SVG arc does. */
export function arc(from: Point, to: Point, radius: number, large: boolean, sweep: boolean): Point[] {
  const chord = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (chord < 1e-6) return [from, to];
  const r = Math.max(radius, chord / 2);
  const off = Math.sqrt(Math.max(r * r - (chord / 2) ** 2, 0)) * (large === sweep ? -1 : 1);
  const cx = (from[0] + to[0]) / 2 - ((to[1] - from[1]) / chord) * off;
  const cy = (from[1] + to[1]) / 2 + ((to[0] - from[0]) / chord) * off;
  const a0 = Math.atan2(from[1] - cy, from[0] - cx);
  let turn = Math.atan2(to[1] - cy, to[0] - cx) - a0;
  if (sweep && turn < 0) turn += 2 * Math.PI;
  if (!sweep && turn > 0) turn -= 2 * Math.PI;
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const a = a0 + (turn * i) / STEPS;
    return [cx + r * Math.cos(a), cy + r * Math.sin(a)] as const;
  });
}

function slabLines(s: Scene["slabs"][number], f: Frame, q: number): Segment[] {
  const [x, y] = at(f, s.at, q);
  const w = (s.width_mm * f.k) / 2;
  const h = (s.height_mm * f.k) / 2;
  let corners: Point[] = [
    [x - w, y - h],
    [x + w, y - h],
    [x + w, y + h],
    [x - w, y + h],
  ];
  if (s.pivot) {
    const [px, py] = at(f, s.pivot, q);
    const a = -(s.angle + s.turn * q);
    corners = corners.map(([cx, cy]) => [
      px + (cx - px) * Math.cos(a) - (cy - py) * Math.sin(a),
      py + (cx - px) * Math.sin(a) + (cy - py) * Math.cos(a),
    ]);
  }
  return corners.map((c, i) => [...c, ...corners[(i + 1) % 4]!] as const);
}
