/** The carriage loop; it moves while the pointer rests on it, and never when the system asks for less motion. */
import { useState } from "react";
import { useReducedMotion } from "@mantine/hooks";

export function LayoutSketch() {
  const [on, setOn] = useState(false);
  const still = useReducedMotion() || !on;
  const stroke = { dur: "5s", repeatCount: "indefinite", calcMode: "spline", keyTimes: "0;0.45;0.5;0.95;1", keySplines: "0.4 0 0.6 1;0 0 1 1;0.4 0 0.6 1;0 0 1 1" };
  return (
    <svg onPointerEnter={() => setOn(true)} onPointerLeave={() => setOn(false)} viewBox="0 0 190 62" role="img" aria-label="Sketch of a carriage loop" width="190" height="62">
      <rect x="14" y="44" width="162" height="5" fill="var(--metal)" stroke="var(--pencil)" strokeWidth="0.8" />
      <rect x="9" y="13" width="22" height="22" fill="none" stroke="var(--ink)" strokeWidth="1.3" />
      <path d="M20 15H170A9 9 0 0 1 170 33H20A9 9 0 0 1 20 15" fill="none" stroke="var(--belt)" strokeWidth="2" />
      <path d="M20 15H170A9 9 0 0 1 170 33H20A9 9 0 0 1 20 15" fill="none" stroke="var(--sheet)" strokeWidth="1" strokeDasharray="3 3">
        {!still && <animate attributeName="stroke-dashoffset" values="0;78;78;0;0" {...stroke} />}
      </path>
      <circle cx="20" cy="24" r="7.5" fill="var(--metal)" stroke="var(--ink)" />
      <circle cx="170" cy="24" r="7.5" fill="var(--sheet)" stroke="var(--ink)" />
      <circle cx="170" cy="24" r="1.4" fill="var(--ink)" />
      <g>
        {!still && <animateTransform attributeName="transform" type="translate" values="0 0;78 0;78 0;0 0;0 0" {...stroke} />}
        <rect x="42" y="29" width="30" height="14" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.3" />
      </g>
    </svg>
  );
}
