/** One drawing to true scale, with the moving point to drag along its travel. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Scene } from "../api/client";
import { useNumbers } from "../design/context";
import { Slide } from "../kit/inputs";
import css from "./drawing.module.css";
import { Shapes, SlabShape } from "./shapes";
import { layOut, WIDTH } from "./sheet";
import { Dimension, Labels } from "./Words";

export function SceneDrawing({ scene, tallest = 300 }: { scene: Scene; tallest?: number }) {
  const { report, show } = useNumbers();
  const [share, setShare] = useState(0.35);
  const svg = useRef<SVGSVGElement>(null);
  const holding = useRef(false);
  const q = share * scene.travel_mm;
  const held =
    scene.travel_mm > 0
      ? (scene.slabs.find((s) => s.form === "carriage") ??
        scene.slabs.find((s) => s.form === "load") ??
        scene.slabs.find((s) => s.form === "arm"))
      : undefined;
  const length = (mm: number) => show(mm, "mm", 4).said;
  const { frame: f, height, words, dimensions, bar } = layOut(scene, q, tallest, length);
  const { k } = f;
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
  return (
    <figure>
      <svg
        ref={svg}
        className={css.drawing}
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
                className={css.grab}
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
        {dimensions.map((d, i) => (
          <Dimension key={i} of={d} />
        ))}
        <Labels of={[...words, bar.says]} />
        <line
          x1={20}
          x2={20 + bar.mm * k}
          y1={height - 5}
          y2={height - 5}
          stroke="var(--ink)"
          strokeWidth="2"
        />
      </svg>
      <figcaption className={css.caption}>
        <span className="quiet">{scene.title}</span>
        {held && (
          <span>
            {scene.point} at <b className="num">{length(q)}</b>
          </span>
        )}
        {stiffness && (
          <span title="nearest of 25 places worked out along the travel">
            stiffness here <b className="num">{stiffness.said}</b>
          </span>
        )}
        {held && <span className="quiet">drag it, or use ← →</span>}
        {!held && scene.travel_mm > 0 && <Slide label="turn it" share={share} onShare={setShare} />}
      </figcaption>
    </figure>
  );
}
