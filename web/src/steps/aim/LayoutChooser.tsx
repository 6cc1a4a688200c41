/** The layouts to choose from, each with its drawing, what it gives and what it costs. The drawing moves under the pointer or the focus. */
import { useEffect, useState } from "react";
import { useReducedMotion } from "@mantine/hooks";
import type { Scene } from "../../api/client";
import { useLayouts } from "../../api/queries";
import { SceneSketch } from "../../drawing/SceneSketch";
import { Cards } from "../../kit/Cards";
import { Fetched, Waiting } from "../../kit/Fetched";
import css from "./layout.module.css";
import { lower } from "../../units/words";

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

export function LayoutChooser({ chosen, choose }: { chosen: string; choose: (layout: string) => void }) {
  const layouts = useLayouts();
  const [on, setOn] = useState("");
  return (
    <Fetched of={layouts} what="the layouts" waiting={<Waiting>Drawing the layouts…</Waiting>}>
      {(all) => {
        const said = all.find((l) => l.key === (on || chosen));
        return (
          <>
            <p className={css.said} aria-live="polite">
              {said && (
                <>
                  <b>{said.name}.</b> {said.schools}
                </>
              )}
            </p>
            <Cards
              label="Layout"
              name="layout"
              value={chosen}
              onValue={choose}
              cards={all}
              keyOf={(l) => l.key}
              onPoint={setOn}
              face={(l) => (
                <>
                  <span className={css.name}>{l.name}</span>
                  {l.scene && <MovingSketch scene={l.scene} on={on === l.key} width={250} height={62} />}
                  <span className="small">
                    <b>Gives</b> {lower(l.gives)} <b>Costs</b> {lower(l.costs)}
                  </span>
                </>
              )}
            />
          </>
        );
      }}
    </Fetched>
  );
}
