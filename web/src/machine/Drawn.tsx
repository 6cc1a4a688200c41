/** The axes of a machine as they ride on one another, to scale, from above and from the side; what moves, moves. */
import type { CSSProperties, ReactNode } from "react";
import type { MachineAnswer } from "../api/client";
import { useSystem } from "../design/context";
import { Sheet } from "../kit/sheets";
import { Bodies, Passings, Places } from "./Passing";
import { useSaid } from "./plan";
import css from "./machine.module.css";

type Bar = MachineAnswer["report"]["drawn"][number];
type Body = MachineAnswer["report"]["bodies"][number];
type Box = Bar["still"];

const MARGIN = 40;
/** Which of x, y and z lie across and down the sheet; down is against the third. */
const VIEWS = [
  { title: "From above", across: 0, down: 1 },
  { title: "From the side", across: 0, down: 2 },
] as const;

export function Drawn({ machine }: { machine: MachineAnswer }) {
  const { drawn, areas, bodies } = machine.report;
  const said = useSaid();
  if (drawn.length === 0) return null;
  return (
    <Sheet
      title="Together"
      note={`to scale${drawn.every((b) => b.placed) ? "" : "; what is not placed yet lies on the middle of what carries it"}`}
    >
      <div className={css.views}>
        {VIEWS.map((view) => (
          <View key={view.title} bars={drawn} bodies={bodies} {...view} />
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
      <Passings machine={machine} />
      <div className="no-print">
        <Places machine={machine} />
        <Bodies machine={machine} />
      </div>
    </Sheet>
  );
}

function View({
  bars,
  bodies,
  title,
  across,
  down,
}: {
  bars: readonly Bar[];
  bodies: readonly Body[];
  title: string;
  across: number;
  down: number;
}) {
  const by = new Map(bars.map((b) => [b.key, b]));
  /** How far something goes either way, with what carries it. */
  const sway = (keys: readonly string[], i: number) =>
    keys.reduce((all, k) => {
      const b = by.get(k);
      if (!b) return all;
      return all + (b.way === "xyz"[i] ? b.travel_mm : i < 2 ? b.across_mm : 0) / 2;
    }, 0);
  const swept = (box: Box, movers: readonly string[], i: number) => {
    const way = sway(movers, i);
    return [box[i]![0] - way, box[i]![1] + way];
  };
  const reached = (i: number) => [
    ...bars.flatMap((b) => [
      ...swept(b.still, b.carried_by, i),
      ...swept(b.moves, [b.key, ...b.carried_by], i),
      ...(b.swing ? swept(b.swing, b.carried_by, i) : []),
    ]),
    ...bodies.flatMap((b) => swept(b.box, b.moved_by, i)),
  ];
  const low = (i: number) => Math.min(...reached(i)) - MARGIN;
  const high = (i: number) => Math.max(...reached(i)) + MARGIN;
  const wide = high(across) - low(across);
  const tall = Math.max(high(down) - low(down), wide / 6);
  const sheet = Math.max(wide, 1.8 * tall); // what its words are small against: it fits into 1.8 to 1
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
  const [system] = useSystem();
  const unit = system === "imperial" ? 25.4 : 1;
  const step = unit * 10 ** Math.floor(Math.log10(wide / 2 / unit));
  const moving = (i: number, half: number, inside: ReactNode) => {
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
  const name = (said: string, cls: string | undefined, size: number, box: Box, end = false) => (
    <text
      className={cls}
      fontSize={sheet / size}
      textAnchor={end ? "end" : "start"}
      x={(box[across]![end ? 1 : 0] ?? 0) - low(across)}
      y={high(down) - box[down]![1] - sheet / 130}
    >
      {said}
    </text>
  );
  // What is written stands over all that is drawn, and moves with it.
  const layer = (words: boolean) => {
    const entered = (mover: string | undefined) =>
      bodies
        .filter((b) => b.moved_by[0] === mover)
        .map((b, i) => (
          <g key={`${b.name} ${i}`} data-body={words ? undefined : b.name}>
            {words ? name(b.name, css.name, 48, b.box) : rect(b.box, css.body)}
          </g>
        ));
    const bar = (b: Bar): ReactNode => {
      const i = "xyz".indexOf(b.way);
      const beside = i === 1 ? 0 : 1;
      const riding = (
        <>
          {!words && b.head && rect(b.head, css.carriage)}
          {entered(b.key)}
          {bars.filter((r) => r.carried_by[0] === b.key).map(bar)}
        </>
      );
      return (
        <g key={b.key} data-bar={words ? undefined : b.key}>
          {!words && b.swing && rect(b.swing, css.body)}
          {!words && rect(b.still, css.still)}
          {moving(
            i,
            b.travel_mm / 2,
            <>
              {!words && rect(b.moves, css.carriage)}
              {b.across_mm > 0 ? moving(beside, b.across_mm / 2, riding) : riding}
            </>,
          )}
          {words && b.swing && name(`swing of ${b.name}`, css.name, 48, b.swing)}
          {words && name(b.name, css.label, 38, b.still, bars.indexOf(b) % 2 === 1)}
        </g>
      );
    };
    return (
      <>
        {entered(undefined)}
        {bars.filter((b) => b.carried_by.length === 0).map(bar)}
      </>
    );
  };
  return (
    <figure className={css.view}>
      <svg
        viewBox={`0 0 ${wide} ${tall}`}
        role="img"
        aria-label={`${title}: ${bars.map((b) => b.name).join(", ")}`}
      >
        {layer(false)}
        {layer(true)}
        <g transform={`translate(${sheet / 90} ${tall - sheet / 60})`}>
          <path
            d={`M0 0h${step}m0 ${-sheet / 120}v${sheet / 60}M0 ${-sheet / 120}v${sheet / 60}`}
            className={css.scale}
            vectorEffect="non-scaling-stroke"
          />
        </g>
      </svg>
      <figcaption className="small quiet">
        {title}, x to the right and {"xyz"[down]} up; <Scale mm={step} />
      </figcaption>
    </figure>
  );
}

function Scale({ mm }: { mm: number }) {
  const said = useSaid();
  return <span className="num">the bar is {said(mm, "mm", 3).said}</span>;
}
