/** One drawing to true scale, with the moving point to drag along its travel. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Scene } from "../api/client";
import { useNumbers } from "../design/context";
import { at, bounds, Shapes, SlabShape, type Frame } from "./shapes";

const WIDTH = 860;
const ROW = 19; // a row of words above or below the drawing

function niceBar(span: number) {
  const raw = span / 8;
  const size = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((f) => f * size).find((v) => v >= raw) ?? size;
}

export function SceneDrawing({ scene, tallest = 300 }: { scene: Scene; tallest?: number }) {
  const { report, show } = useNumbers();
  const [share, setShare] = useState(0.35);
  const svg = useRef<SVGSVGElement>(null);
  const holding = useRef(false);
  const box = bounds(scene);
  const tall = Math.max(box.high - box.low, 1);
  const levels = scene.marks.filter((m) => m.text).map((m) => m.level);
  const above = Math.max(0, ...levels) * ROW + 8;
  const below = -Math.min(0, ...levels) * ROW + 8;
  const k = Math.min(
    (WIDTH - 60) / Math.max(box.right - box.left, 1),
    (tallest - above - below - ROW) / tall,
  );
  const height = tall * k + above + below + ROW;
  const used = (box.right - box.left) * k;
  const f: Frame = { k, left: box.left - (WIDTH - used) / 2 / k, top: box.high + above / k };
  const q = share * scene.travel_mm;
  const held =
    scene.travel_mm > 0
      ? (scene.slabs.find((s) => s.form === "carriage") ??
        scene.slabs.find((s) => s.form === "load") ??
        scene.slabs.find((s) => s.form === "arm"))
      : undefined;
  const length = (mm: number) => {
    const got = show(mm, "mm", 4);
    return `${got.text} ${got.unit}`;
  };
  const put = (mm: number) => setShare(Math.min(1, Math.max(0, mm / scene.travel_mm)));
  const move = (e: PointerEvent) => {
    if (!holding.current || !svg.current || !held) return;
    const seen = svg.current.getBoundingClientRect();
    const x = ((e.clientX - seen.left) * (WIDTH / seen.width)) / k + f.left;
    const y = f.top - ((e.clientY - seen.top) * (height / seen.height)) / k;
    if (held.pivot) {
      const turned = Math.atan2(y - held.pivot.y_mm, x - held.pivot.x_mm) - held.angle;
      put(
        (turned > Math.PI ? turned - 2 * Math.PI : turned < -Math.PI ? turned + 2 * Math.PI : turned) /
          held.turn,
      );
    } else
      put(
        ((x - held.at.x_mm) * held.at.dx + (y - held.at.y_mm) * held.at.dy) /
          (held.at.dx ** 2 + held.at.dy ** 2),
      );
  };
  const key = (e: KeyboardEvent) => {
    const by = {
      ArrowLeft: -1,
      ArrowDown: -1,
      ArrowRight: 1,
      ArrowUp: 1,
      PageDown: -10,
      PageUp: 10,
      Home: -1e9,
      End: 1e9,
    }[e.key];
    if (!by) return;
    e.preventDefault();
    setShare((s) => Math.min(1, Math.max(0, s + by * 0.01)));
  };
  const along = report?.along && held ? report.along : null;
  const stiffness = along
    ? show(along.stiffness_n_mm[Math.round(share * (along.position_mm.length - 1))], "N/mm")
    : null;
  const bar = niceBar((box.right - box.left) * 1.1);
  return (
    <figure>
      <svg
        ref={svg}
        className="drawing"
        viewBox={`0 0 ${WIDTH} ${height}`}
        onPointerMove={move}
        onPointerUp={() => (holding.current = false)}
        role="group"
        aria-label={`${scene.title}, to true scale`}
      >
        <Shapes
          scene={scene}
          f={f}
          q={q}
          skip={held}
          held={
            held && (
              <g
                className="grab"
                role="slider"
                tabIndex={0}
                aria-label={`${scene.point} along the travel`}
                aria-valuemin={0}
                aria-valuemax={Math.round(scene.travel_mm)}
                aria-valuenow={Math.round(q)}
                aria-valuetext={length(q)}
                onKeyDown={key}
                onPointerDown={(e) => (
                  (holding.current = true),
                  e.currentTarget.setPointerCapture(e.pointerId)
                )}
              >
                <SlabShape slab={held} f={f} q={q} />
              </g>
            )
          }
        />
        {scene.marks.map((m, i) => {
          if (!m.text) return null;
          const row =
            m.level > 0
              ? above - m.level * ROW + 6
              : m.level < 0
                ? above + tall * k - m.level * ROW - 10
                : null;
          const [x, y0] = at(f, m.at, 0);
          const y = row ?? y0;
          const edge = m.text.length * 3.5 + 4;
          if (!m.to)
            return (
              <text
                key={i}
                x={Math.min(Math.max(x, edge), WIDTH - edge)}
                y={y + 3}
                textAnchor="middle"
                fontSize="11"
              >
                {m.text}
              </text>
            );
          const [x1, to] = at(f, m.to, 0);
          const y1 = row ?? to;
          const flat = Math.abs(y1 - y) < 1;
          return (
            <g key={i} stroke="var(--pencil)" strokeWidth="0.8">
              <line x1={x} x2={x1} y1={y} y2={y1} />
              {[
                [x, y],
                [x1, y1],
              ].map(([a, b]) => (
                <line
                  key={`${a} ${b}`}
                  x1={a! - (flat ? 0 : 4)}
                  x2={a! + (flat ? 0 : 4)}
                  y1={b! - (flat ? 4 : 0)}
                  y2={b! + (flat ? 4 : 0)}
                />
              ))}
              <text
                stroke="none"
                x={flat ? (x + x1) / 2 : x + 8}
                y={flat ? (m.level > 0 ? y - 4 : y + 13) : (y + y1) / 2}
                textAnchor={flat ? "middle" : "start"}
                fontSize="11"
              >
                {m.text} {m.value_mm === null || m.value_mm === undefined ? "" : length(m.value_mm)}
              </text>
            </g>
          );
        })}
        <line x1={20} x2={20 + bar * k} y1={height - 5} y2={height - 5} stroke="var(--ink)" strokeWidth="2" />
        <text x={26 + bar * k} y={height - 2} fontSize="10">
          {length(bar)} to scale
        </text>
      </svg>
      <figcaption
        className="small"
        style={{ display: "flex", gap: 18, flexWrap: "wrap", padding: "6px 2px 0" }}
      >
        <span className="quiet">{scene.title}</span>
        {held && (
          <span>
            {scene.point} at <b className="num">{length(q)}</b>
          </span>
        )}
        {stiffness && (
          <span title="nearest of 25 places worked out along the travel">
            stiffness here{" "}
            <b className="num">
              {stiffness.text} {stiffness.unit}
            </b>
          </span>
        )}
        {held && <span className="quiet">drag it, or use ← →</span>}
        {!held && scene.travel_mm > 0 && (
          <label className="quiet" style={{ display: "flex", gap: 8, alignItems: "center" }}>
            turn it{" "}
            <input
              type="range"
              min={0}
              max={1000}
              value={Math.round(share * 1000)}
              onChange={(e) => setShare(Number(e.target.value) / 1000)}
              style={{ accentColor: "var(--ink)" }}
            />
          </label>
        )}
      </figcaption>
    </figure>
  );
}

/** A small still drawing; it moves while `moving`. */
export function SceneSketch({
  scene,
  width = 270,
  height = 46,
  q = 0,
}: {
  scene: Scene;
  width?: number;
  height?: number;
  q?: number;
}) {
  const box = bounds(scene);
  const k = Math.min(
    (width - 8) / Math.max(box.right - box.left, 1),
    (height - 6) / Math.max(box.high - box.low, 1),
  );
  const f: Frame = {
    k,
    left: box.left - (width - (box.right - box.left) * k) / 2 / k,
    top: box.high + (height - (box.high - box.low) * k) / 2 / k,
  };
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden="true"
      style={{ display: "block" }}
    >
      <Shapes scene={scene} f={f} q={q} thin />
    </svg>
  );
}
