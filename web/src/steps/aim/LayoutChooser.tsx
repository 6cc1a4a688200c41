/** The layouts to choose from, each with its drawing, what it gives and what it costs. The drawing moves under the pointer or the focus. */
import { useEffect, useState } from "react";
import { useReducedMotion } from "@mantine/hooks";
import type { LayoutRow, Scene } from "../../api/client";
import { useLayouts } from "../../api/queries";
import { SceneSketch } from "../../drawing/SceneDrawing";

export function MovingSketch({
  scene,
  on,
  width,
  height,
}: {
  scene: Scene;
  on: boolean;
  width?: number;
  height?: number;
}) {
  const still = useReducedMotion() || !on;
  const [q, setQ] = useState(0);
  useEffect(() => {
    if (still) return;
    const begun = performance.now();
    let frame = 0;
    const step = (now: number) => {
      setQ(((1 - Math.cos(((now - begun) / 2600) * Math.PI)) / 2) * scene.travel_mm);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [still, scene.travel_mm]);
  return <SceneSketch scene={scene} q={q} width={width} height={height} />;
}

export function LayoutChooser({ chosen, choose }: { chosen: string; choose: (layout: LayoutRow) => void }) {
  const layouts = useLayouts();
  const [on, setOn] = useState("");
  if (!layouts.data)
    return <p className="quiet">{layouts.error ? layouts.error.message : "Drawing the layouts…"}</p>;
  const said = layouts.data.find((l) => l.key === (on || chosen));
  return (
    <>
      <p className="small" style={{ minHeight: 38 }} aria-live="polite">
        {said && (
          <>
            <b>{said.name}.</b> {said.schools}
          </>
        )}
      </p>
      <div className="choices" role="radiogroup" aria-label="Layout">
        {layouts.data.map((l) => (
          <button
            key={l.key}
            type="button"
            role="radio"
            aria-checked={chosen === l.key}
            className={chosen === l.key ? "on" : ""}
            onClick={() => choose(l)}
            onPointerEnter={() => setOn(l.key)}
            onPointerLeave={() => setOn("")}
            onFocus={() => setOn(l.key)}
            onBlur={() => setOn("")}
            data-layout={l.key}
          >
            <span className="name">{l.name}</span>
            {l.scene && <MovingSketch scene={l.scene} on={on === l.key} width={250} height={62} />}
            <span className="small">
              <b>Gives</b> {l.gives.charAt(0).toLowerCase() + l.gives.slice(1)} <b>Costs</b>{" "}
              {l.costs.charAt(0).toLowerCase() + l.costs.slice(1)}
            </span>
          </button>
        ))}
      </div>
    </>
  );
}
