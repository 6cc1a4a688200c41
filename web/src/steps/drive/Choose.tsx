/** Four ways to a better drive: search the drawer, one change, other ways to move, and why not this one. */
import { lazy, Suspense, useState } from "react";

const WAYS = [
  [
    "search",
    "Search the drawer",
    "every combination of motor, supply, reduction, belt and teeth on the whole ladder",
    lazy(() => import("./Search")),
  ],
  [
    "change",
    "One change",
    "every single swap from here, and the cheapest that makes all hold",
    lazy(() => import("./OneChange")),
  ],
  [
    "ways",
    "Other ways",
    "the same aim by belt, screw and rack, side by side",
    lazy(() => import("./OtherWays")),
  ],
  [
    "why",
    "Why not…",
    "ask of any combination which target it fails, and by how much",
    lazy(() => import("./WhyNot")),
  ],
] as const;

export default function Choose() {
  const [on, setOn] = useState<string>("search");
  const [, title, says, Body] = WAYS.find(([key]) => key === on)!;
  return (
    <section className="sheet" data-choose>
      <div className="tabs" role="tablist" aria-label="Ways to a better drive">
        {WAYS.map(([key, name]) => (
          <button key={key} role="tab" aria-selected={on === key} onClick={() => setOn(key)}>
            {name}
          </button>
        ))}
        <span className="quiet small">{says}</span>
      </div>
      <Suspense fallback={<p role="status">{title}…</p>}>
        <Body />
      </Suspense>
    </section>
  );
}
