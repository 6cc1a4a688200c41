/** A small drawing without words, at one place of its travel. */
import type { Scene } from "../api/client";
import css from "./drawing.module.css";
import { bounds, Shapes, type Frame } from "./shapes";

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
      className={css.sketch}
    >
      <Shapes scene={scene} f={f} q={q} thin />
    </svg>
  );
}
