/** What is left to travel. */
import { useNumbers, usePick, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { stacked } from "../../drawing/stack";
import { number } from "../../units/format";

export function Travel() {
  const { design, problems } = useView();
  const { find } = useNumbers();
  const g = design.guide;
  const usable = problems.length === 0 ? find("travel.usable")?.value : null;
  const pieces: [string, number, string][] = [
    ["end", g.near_mm, "var(--metal)"],
    ["over", g.overtravel_mm, "var(--faint)"],
    ["carriage", g.carriage_mm / 2, "none"],
    ["travel", Math.max(0, usable ?? 0), "travel"],
    ["carriage", g.carriage_mm / 2, "none"],
    ["over", g.overtravel_mm, "var(--faint)"],
    ["end", g.far_mm, "var(--metal)"],
  ];
  const whole = pieces.reduce((sum, [, mm]) => sum + mm, 0) || 1;
  const starts = stacked(pieces.map(([, mm]) => mm));
  return (
    <section className="sheet">
      <h2>
        Travel budget <span className="quiet">what the rail leaves to travel</span>
      </h2>
      <svg
        width="100%"
        height="36"
        viewBox="0 0 1000 36"
        preserveAspectRatio="none"
        role="img"
        aria-label={`Of ${number(g.rail_mm)} mm of rail ${number(usable)} mm are left to travel`}
        style={{ marginBottom: 8 }}
      >
        {pieces.map(([name, mm, fill], i) => {
          const x = ((starts[i] ?? 0) / whole) * 1000;
          const w = (mm / whole) * 1000;
          return fill === "travel" ? (
            <g key={i}>
              <rect
                x={x}
                y="10"
                width={w}
                height="16"
                fill="var(--sheet)"
                stroke="var(--ink)"
                strokeWidth="2"
                vectorEffect="non-scaling-stroke"
              />
              <line x1={x} x2={x + w} y1="18" y2="18" stroke="var(--ink)" vectorEffect="non-scaling-stroke" />
            </g>
          ) : (
            <rect
              key={i}
              x={x}
              y={name === "carriage" ? 13 : 10}
              width={w}
              height={name === "carriage" ? 10 : 16}
              fill={fill}
              stroke="var(--pencil)"
              strokeDasharray={name === "carriage" ? "3 2" : undefined}
              vectorEffect="non-scaling-stroke"
            />
          );
        })}
      </svg>
      <div style={{ display: "grid", gridTemplateColumns: "minmax(0,1fr) auto", gap: 20, alignItems: "end" }}>
        <div className="fields" style={{ gridTemplateColumns: "repeat(3, minmax(0, 1fr))" }}>
          <NumberField path="aim.travel_mm" />
          <NumberField path="guide.rail_mm" />
          <NumberField path="guide.carriage_mm" />
          <NumberField path="guide.near_mm" />
          <NumberField path="guide.far_mm" />
          <NumberField path="guide.overtravel_mm" />
        </div>
        <Figure of="travel.usable" digits={5} />
      </div>
    </section>
  );
}

/** Travel of a point that no rail leads: an arc, a lift, or none at all. */
export function FreeTravel() {
  const turns = usePick((v) => "turn_deg" in v.design.end);
  return (
    <section className="sheet">
      <h2>
        Travel <span className="quiet">counted at the moving point; what limits it stands in Drive</span>
      </h2>
      <div style={{ display: "flex", gap: 26, alignItems: "end" }}>
        <div style={{ width: 170 }}>
          <NumberField path="aim.travel_mm" />
        </div>
        {turns && (
          <div style={{ width: 150 }}>
            <NumberField path="end.turn_deg" />
          </div>
        )}
        <div className="figs">
          <Figure of="travel.usable" digits={5} />
          <Figure of="joint.range" />
          <Figure of="joint.speed" />
        </div>
      </div>
    </section>
  );
}
