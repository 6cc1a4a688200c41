/** Labels and dimension lines of a drawing, as they were laid out. */
import type { Label, Segment } from "./labels";

export const Labels = ({ of }: { of: readonly Label[] }) => (
  <g pointerEvents="none">
    {of.map((l, i) => (
      <g key={i} data-label>
        {l.leader && (
          <line
            x1={l.leader[0]}
            y1={l.leader[1]}
            x2={l.leader[2]}
            y2={l.leader[3]}
            stroke="var(--pencil)"
            strokeWidth="0.8"
          />
        )}
        <text x={l.x} y={l.y} dy="0.34em" textAnchor="middle" fontSize={l.size}>
          {l.text}
        </text>
      </g>
    ))}
  </g>
);

/** A dimension line with a tick at each end. */
export function Dimension({ of: [x0, y0, x1, y1] }: { of: Segment }) {
  const flat = Math.abs(y1 - y0) < Math.abs(x1 - x0);
  const [dx, dy] = flat ? [0, 4] : [4, 0];
  return (
    <path
      d={`M${x0} ${y0}L${x1} ${y1}M${x0 - dx} ${y0 - dy}l${2 * dx} ${2 * dy}M${x1 - dx} ${y1 - dy}l${2 * dx} ${2 * dy}`}
      stroke="var(--pencil)"
      strokeWidth="0.8"
      fill="none"
    />
  );
}
