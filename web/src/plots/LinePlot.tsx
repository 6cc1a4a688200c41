/** A line plot with labelled axes, and a reading of every line under the pointer or, by arrow keys, at any point. */
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { useComputedColorScheme } from "@mantine/core";
import { number } from "../units/format";
import css from "./plot.module.css";

export interface Line {
  label: string;
  y: (number | null)[];
  dash?: number[];
  points?: boolean;
  signal?: boolean;
  right?: boolean;
}

interface Axis {
  name: string;
  unit: string;
}

interface Props {
  x: number[];
  lines: Line[];
  xAxis: Axis;
  yAxis: Axis;
  rightAxis?: Axis;
  height?: number;
  label: string;
  marks?: { x: number; text: string }[];
}

const titled = ({ name, unit }: Axis) => (unit ? `${name}, ${unit}` : name);

export default function LinePlot(props: Props) {
  const { x, lines, xAxis, yAxis, rightAxis, height = 210, label, marks } = props;
  const box = useRef<HTMLDivElement>(null);
  const scheme = useComputedColorScheme("light");
  const [at, setAt] = useState<number | null>(null);
  const shape = JSON.stringify([
    lines.map((l) => [l.label, l.dash, l.right, l.signal, l.points]),
    titled(xAxis),
    titled(yAxis),
    rightAxis && titled(rightAxis),
    height,
    scheme,
  ]);
  const plot = useRef<uPlot | null>(null);
  const latest = useRef({ x, lines, marks });
  latest.current = { x, lines, marks };

  useEffect(() => {
    const here = box.current;
    if (!here) return;
    const style = getComputedStyle(here);
    const colour = (name: string) => style.getPropertyValue(name).trim();
    const axis = {
      stroke: colour("--pencil"),
      grid: { stroke: colour("--faint"), width: 1 },
      ticks: { stroke: colour("--hair"), width: 1, size: 4 },
      font: "11.5px Spline Sans Mono Variable, monospace",
      labelFont: "12px Spline Sans Variable, sans-serif",
      labelSize: 20,
      size: 34,
      values: (_: uPlot, at: number[]) => at.map((v) => number(v, 6)),
    };
    const room = (_: uPlot, low: number, high: number): [number, number] => [
      Math.min(0, low),
      high * 1.08 || 1,
    ];
    const u = new uPlot(
      {
        width: here.clientWidth,
        height,
        cursor: { y: false },
        legend: { show: false },
        scales: { x: { time: false }, y: { range: room }, r: { range: room } },
        axes: [
          { ...axis, label: titled(xAxis) },
          { ...axis, label: titled(yAxis), size: 48 },
          ...(rightAxis
            ? [
                {
                  ...axis,
                  label: titled(rightAxis),
                  scale: "r",
                  side: 1 as const,
                  size: 46,
                  grid: { show: false },
                },
              ]
            : []),
        ],
        series: [
          {},
          ...latest.current.lines.map((l) => ({
            scale: l.right ? "r" : "y",
            stroke: colour(l.signal ? "--signal" : "--ink"),
            width: 1.6,
            dash: l.dash,
            points: { show: !!l.points, size: 7, fill: colour("--sheet"), width: 1.6 },
          })),
        ],
        hooks: {
          setCursor: [(self) => setAt(self.cursor.idx ?? null)],
          draw: [(self) => latest.current.marks?.forEach((m) => drawMark(self, m, colour("--ink")))],
        },
      },
      [latest.current.x, ...latest.current.lines.map((l) => l.y)] as uPlot.AlignedData,
      here,
    );
    plot.current = u;
    const watch = new ResizeObserver(() => u.setSize({ width: here.clientWidth, height }));
    watch.observe(here);
    return () => {
      watch.disconnect();
      u.destroy();
      plot.current = null;
    };
    // `shape` stands for everything that needs a new plot; data alone are set below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape]);

  useEffect(() => {
    plot.current?.setData([x, ...lines.map((l) => l.y)] as uPlot.AlignedData);
  }, [x, lines, marks]);

  const walk = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const u = plot.current;
    if (!by || !u) return;
    e.preventDefault();
    const next = Math.min(x.length - 1, Math.max(0, (at ?? (by > 0 ? -1 : x.length)) + by));
    u.setCursor({ left: u.valToPos(x[next]!, "x"), top: 1 });
  };

  return (
    <figure>
      <div
        ref={box}
        className={css.plot}
        role="img"
        aria-label={label}
        tabIndex={0}
        onKeyDown={walk}
        onBlur={() => setAt(null)}
      />
      <Reading {...{ x, lines, xAxis, yAxis, rightAxis }} at={at} />
    </figure>
  );
}

/** Which line is which, as it is drawn, and what each is where the pointer stands. */
function Reading({
  x,
  lines,
  xAxis,
  yAxis,
  rightAxis,
  at,
}: Pick<Props, "x" | "lines" | "xAxis" | "yAxis" | "rightAxis"> & { at: number | null }) {
  const said = (value: number | null | undefined, unit: string) => `${number(value, 4)} ${unit}`.trim();
  return (
    <figcaption className={css.reading} aria-live="polite">
      {lines.map((l) => (
        <span key={l.label}>
          <svg width="26" height="10" aria-hidden="true" className={css.sample}>
            <line
              x2="26"
              y1="5"
              y2="5"
              stroke={l.signal ? "var(--signal)" : "var(--ink)"}
              strokeWidth="1.6"
              strokeDasharray={l.dash?.join(" ")}
            />
            {l.points && <circle cx="13" cy="5" r="3" fill="var(--sheet)" stroke="var(--ink)" />}
          </svg>{" "}
          {l.label}
          {at !== null && <b className="num"> {said(l.y[at], (l.right ? rightAxis : yAxis)?.unit ?? "")}</b>}
        </span>
      ))}
      <span className="quiet">
        {at === null
          ? "point at it, or use ← →, to read it"
          : `at ${said(x[at], xAxis.unit)}, ${xAxis.name.toLowerCase()}`}
      </span>
    </figcaption>
  );
}

function drawMark(u: uPlot, mark: { x: number; text: string }, ink: string) {
  const px = u.valToPos(mark.x, "x", true);
  const { ctx, bbox } = u;
  ctx.save();
  ctx.strokeStyle = ctx.fillStyle = ink;
  ctx.setLineDash([4, 4]);
  ctx.beginPath();
  ctx.moveTo(px, bbox.top);
  ctx.lineTo(px, bbox.top + bbox.height);
  ctx.stroke();
  ctx.font = `${12 * devicePixelRatio}px Spline Sans Variable, sans-serif`;
  const near = px > bbox.left + bbox.width * 0.75;
  ctx.textAlign = near ? "right" : "left";
  ctx.fillText(mark.text, px + (near ? -6 : 6), bbox.top + 13 * devicePixelRatio);
  ctx.restore();
}
