/** The axes of a machine as they ride on one another, to scale, from above and from the side; what moves, moves. */
import type { CSSProperties, ReactNode } from "react";
import type { MachineAnswer } from "../api/client";
import { Pick } from "../kit/inputs";
import { Fields, Fold, Sheet } from "../kit/sheets";
import { usePlan, useSaid } from "./plan";
import css from "./machine.module.css";

type Bar = MachineAnswer["report"]["drawn"][number];
type Box = Bar["still"];

const MARGIN = 40;
const WAYS = { x: "along, x", y: "across, y", z: "upwards, z" };
/** Which of x, y and z lie across and down the sheet; down is against the third. */
const VIEWS = [
  { title: "From above", across: 0, down: 1 },
  { title: "From the side", across: 0, down: 2 },
] as const;

export function Drawn({ machine }: { machine: MachineAnswer }) {
  const { drawn, areas } = machine.report;
  const { save } = usePlan(machine);
  const said = useSaid();
  if (drawn.length === 0) return null;
  return (
    <Sheet title="Together" note="to scale; each axis on the middle of what carries it, as long as its rail">
      <div className={css.views}>
        {VIEWS.map((view) => (
          <View key={view.title} bars={drawn} {...view} />
        ))}
      </div>
      <ul className={`small ${css.plain}`}>
        {areas.map((a) => (
          <li key={a.name} data-area={a.name}>
            {a.name} reaches{" "}
            <span className="num">
              {[a.x_mm, a.y_mm, a.z_mm]
                .map((mm, i) => (mm > 0 ? `${said(mm, "mm", 4).said} in ${"xyz"[i]}` : ""))
                .filter(Boolean)
                .join(", ") || "as far as it turns"}
            </span>
          </li>
        ))}
      </ul>
      <Fold title="Which way each goes" says={drawn.map((b) => `${b.name} ${b.way}`).join(", ")}>
        {() => (
          <Fields>
            {drawn.map((b) => (
              <Pick
                key={b.key}
                label={b.name}
                value={b.way}
                options={Object.entries(WAYS).map(([value, label]) => ({ value, label }))}
                onValue={(way) => save((plan) => ({ along: { ...plan.along, [b.key]: way as Bar["way"] } }))}
              />
            ))}
          </Fields>
        )}
      </Fold>
    </Sheet>
  );
}

function View({
  bars,
  title,
  across,
  down,
}: {
  bars: readonly Bar[];
  title: string;
  across: number;
  down: number;
}) {
  const by = new Map(bars.map((b) => [b.key, b]));
  /** How far something goes either way, with what carries it. */
  const sway = (keys: readonly string[], i: number) =>
    keys.reduce((all, k) => all + ("xyz"[i] === by.get(k)?.way ? (by.get(k)?.travel_mm ?? 0) / 2 : 0), 0);
  const reached = (i: number) =>
    bars.flatMap((b) => {
      const under = sway(b.carried_by, i);
      const own = under + sway([b.key], i);
      return [b.still[i]![0] - under, b.still[i]![1] + under, b.moves[i]![0] - own, b.moves[i]![1] + own];
    });
  const low = (i: number) => Math.min(...reached(i)) - MARGIN;
  const high = (i: number) => Math.max(...reached(i)) + MARGIN;
  const wide = high(across) - low(across);
  const tall = Math.max(high(down) - low(down), wide / 6);
  const rect = (box: Box, cls: string | undefined) => (
    <rect
      className={cls}
      x={box[across]![0] - low(across)}
      y={high(down) - box[down]![1]}
      width={box[across]![1] - box[across]![0]}
      height={box[down]![1] - box[down]![0]}
      vectorEffect="non-scaling-stroke"
    />
  );
  const step = 10 ** Math.floor(Math.log10(wide / 2));
  const moving = (b: Bar, inside: ReactNode) => {
    const i = "xyz".indexOf(b.way);
    const half = b.travel_mm / 2;
    const style = {
      "--dx": `${i === across ? half : 0}px`,
      "--dy": `${i === down ? -half : 0}px`,
    } as CSSProperties;
    return (
      <g className={css.moves} style={style}>
        {inside}
      </g>
    );
  };
  const draw = (b: Bar, nth: number): ReactNode => (
    <g key={b.key} data-bar={b.key}>
      {rect(b.still, css.still)}
      {moving(
        b,
        <>
          {rect(b.moves, css.carriage)}
          {bars.filter((r) => r.carried_by[0] === b.key).map((r) => draw(r, bars.indexOf(r)))}
        </>,
      )}
      <text
        className={css.label}
        fontSize={wide / 38}
        textAnchor={nth % 2 ? "end" : "start"}
        x={(b.still[across]![nth % 2] ?? 0) - low(across)}
        y={high(down) - b.still[down]![1] - wide / 120}
      >
        {b.name}
      </text>
    </g>
  );
  return (
    <figure className={css.view}>
      <svg
        viewBox={`0 0 ${wide} ${tall}`}
        role="img"
        aria-label={`${title}: ${bars.map((b) => b.name).join(", ")}`}
      >
        {bars.filter((b) => b.carried_by.length === 0).map((b) => draw(b, bars.indexOf(b)))}
        <g transform={`translate(${wide / 90} ${tall - wide / 60})`}>
          <path
            d={`M0 0h${step}m0 ${-wide / 120}v${wide / 60}M0 ${-wide / 120}v${wide / 60}`}
            className={css.scale}
            vectorEffect="non-scaling-stroke"
          />
        </g>
      </svg>
      <figcaption className="small quiet">
        {title}; <Scale mm={step} />
      </figcaption>
    </figure>
  );
}

function Scale({ mm }: { mm: number }) {
  const said = useSaid();
  return <span className="num">the bar is {said(mm, "mm", 3).said}</span>;
}
