/** What is left to travel. */
import { useNumbers, usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { Folded } from "../../fields/Folded";
import { NumberField } from "../../fields/NumberField";
import { stacked } from "../../drawing/stack";
import { Cols, Fields, Figs, Sheet } from "../../kit/sheets";
import css from "./layout.module.css";

const TAKEN = ["guide.carriage_mm", "guide.near_mm", "guide.far_mm", "guide.overtravel_mm"];

export function Travel() {
  const g = usePick((v) => v.design.guide);
  const sound = usePick((v) => v.problems.length === 0);
  const { find, show } = useNumbers();
  const mm = (v: number | null | undefined) => show(v, "mm", 4).said;
  const usable = sound ? find("travel.usable")?.value : null;
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
    <Sheet title="Travel budget" note="what the rail leaves to travel">
      <svg
        width="100%"
        height="36"
        viewBox="0 0 1000 36"
        preserveAspectRatio="none"
        role="img"
        aria-label={`Of ${mm(g.rail_mm)} of rail ${mm(usable)} are left to travel`}
        className={css.rail}
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
      <Cols as="first" tight>
        <div>
          <Fields>
            <NumberField path="aim.travel_mm" />
            <NumberField path="guide.rail_mm" />
          </Fields>
          <Folded title="What the rail gives away" paths={TAKEN}>
            <Fields>
              {TAKEN.map((path) => (
                <NumberField key={path} path={path} />
              ))}
            </Fields>
          </Folded>
        </div>
        <Figs>
          <Figure of="travel.usable" digits={5} />
        </Figs>
      </Cols>
    </Sheet>
  );
}

/** Travel of a point that no rail leads: an arc, a lift, or none at all. */
export function FreeTravel() {
  const turns = usePick((v) => "turn_deg" in v.design.end);
  return (
    <Sheet title="Travel" note="counted at the moving point; what limits it stands in Drive">
      <Cols as="second" tight>
        <Fields>
          <NumberField path={turns ? "end.turn_deg" : "aim.travel_mm"} />
        </Fields>
        <Figs>
          <Figure of="travel.usable" digits={5} />
          <Figure of="joint.range" />
          <Figure of="joint.speed" />
        </Figs>
      </Cols>
    </Sheet>
  );
}
