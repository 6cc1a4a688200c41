/** A line plot with labelled axes; the plotting library is fetched when the first plot is shown. */
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { number } from "../units/format";
import { useComputedColorScheme } from "@mantine/core";

export interface Line {
  label: string;
  y: (number | null)[];
  dash?: number[];
  points?: boolean;
  signal?: boolean;
  right?: boolean;
}

interface Props {
  x: number[];
  lines: Line[];
  xLabel: string;
  yLabel: string;
  rightLabel?: string;
  height?: number;
  label: string;
  marks?: { x: number; text: string }[];
}

export default function LinePlot({
  x,
  lines,
  xLabel,
  yLabel,
  rightLabel,
  height = 210,
  label,
  marks,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const scheme = useComputedColorScheme("light");
  const shape = JSON.stringify([
    lines.map((l) => [l.label, l.dash, l.right, l.signal, l.points]),
    xLabel,
    yLabel,
    rightLabel,
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
    const u = new uPlot(
      {
        width: here.clientWidth,
        height,
        cursor: { y: false },
        legend: {
          live: false,
          markers: {
            width: 2,
            dash: (self, i) => (self.series[i]?.dash ? "dashed" : "solid"),
            stroke: (self, i) =>
              typeof self.series[i]?.stroke === "function"
                ? (self.series[i]!.stroke as (u: uPlot, i: number) => string)(self, i)
                : "",
          },
        },
        scales: {
          x: { time: false },
          y: { range: (_, low, high) => [Math.min(0, low), high * 1.08 || 1] },
          r: { range: (_, low, high) => [Math.min(0, low), high * 1.08 || 1] },
        },
        axes: [
          { ...axis, label: xLabel },
          { ...axis, label: yLabel, size: 48 },
          ...(rightLabel
            ? [{ ...axis, label: rightLabel, scale: "r", side: 1 as const, size: 46, grid: { show: false } }]
            : []),
        ],
        series: [
          { label: xLabel },
          ...latest.current.lines.map((l) => ({
            label: l.label,
            scale: l.right ? "r" : "y",
            stroke: colour(l.signal ? "--signal" : "--ink"),
            width: 1.6,
            dash: l.dash,
            points: { show: !!l.points, size: 7, fill: colour("--sheet"), width: 1.6 },
            value: (_: uPlot, v: number | null) => (v === null ? "–" : String(Number(v.toPrecision(4)))),
          })),
        ],
        hooks: {
          draw: [
            (self) => {
              for (const mark of latest.current.marks ?? []) {
                const px = self.valToPos(mark.x, "x", true);
                const { ctx, bbox } = self;
                ctx.save();
                ctx.strokeStyle = ctx.fillStyle = colour("--ink");
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
            },
          ],
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

  return <div ref={box} className="plot" role="img" aria-label={label} />;
}
