/** Money against headroom of the drives that were found; dragging over it chooses rows. */
import { useRef, useState, type PointerEvent } from "react";
import type { SearchAnswer } from "../../api/client";
import { money, number } from "../../units/format";
import css from "./choose.module.css";

type Found = SearchAnswer["rows"][number];

const W = 430;
const H = 210;

export function SearchChart({
  rows,
  id,
  currency,
  brush,
  chosen,
}: {
  rows: readonly Found[];
  id: (r: Found) => string;
  currency: string;
  brush: (found: Set<string> | null) => void;
  chosen: Set<string> | null;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<[number, number, number, number] | null>(null);
  const most = Math.max(...rows.map((r) => r.spend), 1);
  const [low, high] = [Math.min(...rows.map((r) => r.headroom)), Math.max(...rows.map((r) => r.headroom))];
  const x = (r: Found) => 46 + (r.spend / most) * (W - 60);
  const y = (r: Found) => H - 34 - ((r.headroom - low) / Math.max(high - low, 1e-9)) * (H - 54);
  const at = (e: PointerEvent): [number, number] => {
    const seen = svg.current!.getBoundingClientRect();
    return [((e.clientX - seen.left) * W) / seen.width, ((e.clientY - seen.top) * H) / seen.height];
  };
  const done = () => {
    if (!box) return;
    const [x0, y0, x1, y1] = box;
    setBox(null);
    if (Math.abs(x1 - x0) < 4 && Math.abs(y1 - y0) < 4) return brush(null);
    brush(
      new Set(
        rows
          .filter(
            (r) =>
              x(r) >= Math.min(x0, x1) &&
              x(r) <= Math.max(x0, x1) &&
              y(r) >= Math.min(y0, y1) &&
              y(r) <= Math.max(y0, y1),
          )
          .map(id),
      ),
    );
  };
  return (
    <svg
      ref={svg}
      className={css.chart}
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`Money to spend against least headroom of ${rows.length} drives; drag over some to list only those`}
      data-brush
      onPointerDown={(e) => {
        const [a, b] = at(e);
        e.currentTarget.setPointerCapture(e.pointerId);
        setBox([a, b, a, b]);
      }}
      onPointerMove={(e) => box && setBox([box[0], box[1], ...at(e)])}
      onPointerUp={done}
    >
      <line x1="46" x2={W - 8} y1={H - 34} y2={H - 34} stroke="var(--pencil)" />
      <line x1="46" x2="46" y1="12" y2={H - 34} stroke="var(--pencil)" />
      <text x="46" y={H - 20} fontSize="10">
        0
      </text>
      <text x={W - 10} y={H - 20} fontSize="10" textAnchor="end">
        {money(most, currency)}
      </text>
      <text x={W / 2} y={H - 6} fontSize="10.5" textAnchor="middle">
        money still to spend
      </text>
      <text x="42" y={H - 34} fontSize="10" textAnchor="end">
        {number(low, 3)}×
      </text>
      <text x="42" y="20" fontSize="10" textAnchor="end">
        {number(high, 3)}×
      </text>
      <text transform={`translate(11 ${H / 2}) rotate(-90)`} fontSize="10.5" textAnchor="middle">
        least headroom
      </text>
      {rows.map((r) => (
        <circle
          key={id(r)}
          cx={x(r)}
          cy={y(r)}
          r={r.owned ? 4.5 : 3}
          fill={!chosen || chosen.has(id(r)) ? "var(--ink)" : "none"}
          stroke="var(--ink)"
        />
      ))}
      {box && (
        <rect
          x={Math.min(box[0], box[2])}
          y={Math.min(box[1], box[3])}
          width={Math.abs(box[2] - box[0])}
          height={Math.abs(box[3] - box[1])}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="4 3"
        />
      )}
    </svg>
  );
}
