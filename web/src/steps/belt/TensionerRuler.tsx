/** The tensioner's travel as a ruler: removal, slack, stretch, run-in, and where the thread or the slot ends. */
import { useShow } from "../../design/context";
import drawn from "../../drawing/drawing.module.css";
import { stacked } from "../../drawing/stack";
import css from "./belt.module.css";

const FILLS = ["none", "var(--faint)", "var(--metal)", "var(--hair)"];

export function TensionerRuler({
  pieces,
  needs,
  has,
}: {
  pieces: readonly { name: string; mm: number }[];
  needs: number;
  has: number;
}) {
  const show = useShow();
  const whole = Math.max(needs, has, 1) * 1.06;
  const x = (mm: number) => (mm / whole) * 860;
  const starts = stacked(pieces.map((p) => p.mm));
  const short = has < needs;
  const text = (mm: number) => show(mm, "mm").said;
  const marks = Math.floor(whole);
  return (
    <>
      <p className={css.legend}>
        {pieces.map((p, i) => (
          <span key={p.name}>
            <svg width="14" height="11" aria-hidden="true">
              <rect width="14" height="11" fill={FILLS[i]} stroke="var(--ink)" />
            </svg>{" "}
            {p.name} <b className="num">{text(p.mm)}</b>
          </span>
        ))}
      </p>
      <svg
        viewBox="0 8 880 58"
        width="100%"
        role="img"
        aria-label={`The tensioner needs ${text(needs)} and has ${text(has)}`}
        className={drawn.bare}
      >
        {marks <= 120 &&
          Array.from({ length: marks + 1 }, (_, i) => (
            <line
              key={i}
              x1={x(i) + 4}
              x2={x(i) + 4}
              y1={17}
              y2={i % 10 === 0 ? 9 : i % 5 === 0 ? 12 : 14}
              stroke="var(--pencil)"
              strokeWidth="0.8"
            />
          ))}
        {pieces.map((p, i) => (
          <rect
            key={p.name}
            x={x(starts[i] ?? 0) + 4}
            y="18"
            width={x(p.mm)}
            height="15"
            fill={FILLS[i]}
            stroke="var(--ink)"
          />
        ))}
        <line
          x1="4"
          x2={x(has) + 4}
          y1="42"
          y2="42"
          stroke={short ? "var(--signal)" : "var(--ink)"}
          strokeWidth="3"
        />
        <line
          x1={x(has) + 4}
          x2={x(has) + 4}
          y1="15"
          y2="48"
          stroke={short ? "var(--signal)" : "var(--ink)"}
          strokeWidth="2"
        />
        <text
          x={Math.min(x(has) + 4, 872)}
          y="61"
          fontSize="11.5"
          textAnchor={has / whole > 0.35 ? "end" : "start"}
          data-signal={short || undefined}
        >
          ends at {text(has)}; needs {text(needs)}
        </text>
      </svg>
    </>
  );
}
