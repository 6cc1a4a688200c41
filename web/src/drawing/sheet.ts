/** How a scene lies on its page: scale, height, and every word and dimension line clear of what is drawn. */
import type { Scene } from "../api/client";
import { boxOf, inRows, Paper, widthOf, type Label, type Segment } from "./labels";
import { linesOf, ringsOf } from "./obstacles";
import { at, bounds, type Frame } from "./shapes";

export const WIDTH = 860;
const ROW = 19;
const SIZE = 11;
const EDGE = 12;

export interface Laid {
  frame: Frame;
  height: number;
  words: Label[];
  dimensions: Segment[];
  bar: { mm: number; says: Label };
}

interface InRow {
  left: number;
  right: number;
  row: number;
  above: boolean;
  text: string;
  x: number;
  line: readonly [number, number] | null;
}

function niceBar(span: number) {
  const raw = span / 8;
  const size = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((f) => f * size).find((v) => v >= raw) ?? size;
}

export function layOut(scene: Scene, q: number, tallest: number, length: (mm: number) => string): Laid {
  const box = bounds(scene);
  // Words that stand at a place of their own need it within the sheet.
  for (const m of scene.marks.filter((m) => m.text && m.level === 0 && !m.to)) {
    box.high = Math.max(box.high, m.at.y_mm);
    box.low = Math.min(box.low, m.at.y_mm);
  }
  const wide = Math.max(box.right - box.left, 1);
  const tall = Math.max(box.high - box.low, 1);
  const said = (m: Scene["marks"][number]) =>
    m.value_mm === null || m.value_mm === undefined ? m.text : `${m.text} ${length(m.value_mm)}`;
  // Words beside upright dimension lines need room at the sides.
  const sides = scene.marks.filter((m) => m.to && m.level === 0).map((m) => widthOf(said(m), SIZE) + 16);
  const room = WIDTH - 60 - Math.max(0, ...sides);
  const marks = scene.marks.filter((m) => m.text);
  let [above, below] = [0, 0];
  let frame: Frame = { k: 1, left: 0, top: 0 };
  let rows: InRow[] = [];
  // The scale depends on how many rows there are, and those on the scale: twice is enough.
  for (let turn = 0; turn < 2; turn++) {
    const k = Math.min(room / wide, (tallest - (above + below + 1) * ROW - 2 * EDGE) / tall);
    const used = wide * k;
    frame = { k, left: box.left - (WIDTH - used) / 2 / k, top: box.high + (above * ROW + EDGE) / k };
    rows = [true, false].flatMap((up) =>
      inRows(marks.filter((m) => (up ? m.level > 0 : m.level < 0)).map((m) => inRow(m, frame, said(m), up))),
    );
    above = Math.max(0, ...rows.filter((r) => r.above).map((r) => r.row));
    below = Math.max(0, ...rows.filter((r) => !r.above).map((r) => r.row));
  }
  const { k } = frame;
  const top = above * ROW + EDGE;
  const foot = top + tall * k;
  const height = foot + (below + 1) * ROW + EDGE;
  const words: Label[] = [];
  const dimensions: Segment[] = [];
  for (const r of rows) {
    const y = r.above ? top - r.row * ROW + 8 : foot + r.row * ROW - 4;
    words.push({ text: r.text, x: r.x, y: r.line ? y - 7 : y, size: SIZE, leader: null });
    if (r.line) dimensions.push([r.line[0], y, r.line[1], y]);
  }
  const paper = new Paper(
    { left: 2, right: WIDTH - 2, top: 2, bottom: height - 2 },
    [...linesOf(scene, frame, q), ...dimensions],
    ringsOf(scene, frame, q),
  );
  for (const w of words) paper.take(boxOf(w.text, w.x, w.y, SIZE));
  const bar = niceBar(wide * 1.1);
  const name = `${length(bar)} to scale`;
  const says: Label = {
    text: name,
    x: 26 + bar * k + widthOf(name, 10) / 2,
    y: height - 6,
    size: 10,
    leader: null,
  };
  paper.take(boxOf(name, says.x, says.y, 10));
  for (const m of marks.filter((m) => m.level === 0)) {
    const [x, y] = at(frame, m.at, 0);
    let label: Label | null;
    if (m.to) {
      const [x1, y1] = at(frame, m.to, 0);
      dimensions.push([x, y, x1, y1]);
      const half = widthOf(said(m), SIZE) / 2 + 7;
      label = paper.at(
        said(m),
        SIZE,
        [0.5, 0.3, 0.7, 0.1, 0.9].flatMap((s) =>
          [half, -half].map((aside) => [x + aside, y + (y1 - y) * s] as const),
        ),
      );
    } else label = paper.at(m.text, SIZE, [[x, y]]) ?? paper.beside(m.text, SIZE, { x, y, r: 0 });
    if (label) words.push(label);
  }
  return { frame, height, words, dimensions, bar: { mm: bar, says } };
}

/** A word or a dimension line in a row above or below the drawing. */
function inRow(m: Scene["marks"][number], f: Frame, text: string, above: boolean): InRow {
  const [x0] = at(f, m.at, 0);
  const half = widthOf(text, SIZE) / 2;
  const keep = (x: number) => Math.min(Math.max(x, half + 4), WIDTH - half - 4);
  const row = Math.abs(m.level);
  if (!m.to) {
    const x = keep(x0);
    return { left: x - half, right: x + half, row, above, text, x, line: null };
  }
  const [x1] = at(f, m.to, 0);
  const x = keep((x0 + x1) / 2);
  const line = [Math.min(x0, x1), Math.max(x0, x1)] as const;
  return {
    left: Math.min(line[0], x - half),
    right: Math.max(line[1], x + half),
    row,
    above,
    text,
    x,
    line,
  };
}
