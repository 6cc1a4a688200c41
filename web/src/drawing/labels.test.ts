/** Words on drawings: clear of lines, wheels, one another and the edge; a leader where they stand further off. */
import { describe, expect, it } from "vitest";
import type { Scene } from "../api/client";
import { boxOf, crosses, inRows, meet, Paper, rings, widthOf } from "./labels";
import { arc, linesOf } from "./obstacles";
import { layOut, WIDTH } from "./sheet";

const sheet = { left: 0, top: 0, right: 300, bottom: 200 };
const box = { left: 10, top: 10, right: 20, bottom: 20 };

describe("boxes", () => {
  it.each([
    [[0, 15, 30, 15], true],
    [[0, 0, 30, 30], true],
    [[12, 12, 13, 13], true],
    [[0, 25, 30, 25], false],
    [[15, 0, 15, 9], false],
    [[0, 30, 30, 5], true],
    [[21, 0, 21, 30], false],
  ] as const)("are crossed by %s: %s", (line, is) => expect(crosses(line, box)).toBe(is));
  it("meet only where they overlap", () => {
    expect(meet(box, { left: 19, top: 19, right: 30, bottom: 30 })).toBe(true);
    expect(meet(box, { left: 20, top: 10, right: 30, bottom: 20 })).toBe(false);
  });
  it("are reached by a circle about or beside them", () => {
    expect(rings({ x: 15, y: 15, r: 1 }, box)).toBe(true);
    expect(rings({ x: 25, y: 15, r: 4 }, box)).toBe(false);
    expect(rings({ x: 25, y: 15, r: 6 }, box)).toBe(true);
  });
});

describe("a paper", () => {
  it("puts words above a thing where nothing is there", () => {
    const label = new Paper(sheet, [], []).beside("idler", 11, { x: 150, y: 100, r: 10 })!;
    expect(label.x).toBe(150);
    expect(label.y).toBeLessThan(90);
    expect(label.leader).toBeNull();
  });
  it("never puts words on one another, on a line or off the sheet", () => {
    const lines = [[0, 90, 300, 90] as const, [0, 110, 300, 110] as const];
    const wheels = [
      { x: 20, y: 100, r: 12 },
      { x: 45, y: 100, r: 12 },
      { x: 285, y: 100, r: 12 },
    ];
    const paper = new Paper(sheet, lines, wheels);
    const labels = wheels.map((w, i) => paper.beside(`a long name ${i}`, 11, w)!);
    const boxes = labels.map((l) => boxOf(l.text, l.x, l.y, 11));
    boxes.forEach((b, i) => {
      expect(b.left).toBeGreaterThanOrEqual(0);
      expect(b.right).toBeLessThanOrEqual(300);
      expect(lines.some((l) => crosses(l, b))).toBe(false);
      expect(wheels.some((w) => rings(w, b))).toBe(false);
      expect(boxes.slice(i + 1).some((o) => meet(o, b))).toBe(false);
    });
  });
  it("leads to a thing from further off where it is tight, from edge to edge", () => {
    const crowd = Array.from({ length: 12 }, (_, i) => [0, 70 + 5 * i, 300, 70 + 5 * i] as const);
    const label = new Paper(sheet, crowd, []).beside("middle pulley", 11, { x: 150, y: 100, r: 8 })!;
    expect(label.leader).not.toBeNull();
    const [x0, y0] = label.leader!;
    expect(Math.hypot(x0 - 150, y0 - 100)).toBeCloseTo(8);
  });
  it("leaves words out rather than put them on top of what is drawn", () => {
    const full = Array.from({ length: 60 }, (_, i) => [0, 4 * i, 300, 4 * i] as const);
    expect(new Paper(sheet, full, []).beside("idler", 11, { x: 150, y: 100, r: 5 })).toBeNull();
    expect(new Paper(sheet, full, []).at("12 mm", 11, [[150, 100]])).toBeNull();
  });
});

describe("rows", () => {
  it("are as many as the words need", () => {
    const rows = inRows([
      { left: 0, right: 50, row: 1 },
      { left: 40, right: 90, row: 1 },
      { left: 100, right: 150, row: 1 },
      { left: 10, right: 20, row: 2 },
    ]);
    expect(rows.map((r) => r.row)).toEqual([1, 2, 1, 2]);
    const same = rows.filter((r) => r.row === 1);
    expect(same).toHaveLength(2);
  });
});

const spot = (x_mm: number, y_mm = 0) => ({ x_mm, y_mm, dx: 0, dy: 0 });
const scene = (more: Partial<Scene>): Scene =>
  ({ title: "", point: "", travel_mm: 0, wheels: [], strands: [], slabs: [], marks: [], ...more }) as Scene;
const mark = (text: string, at: number, level: number, to?: number) => ({
  text,
  at: spot(at),
  to: to === undefined ? null : spot(to),
  value_mm: to === undefined ? null : to - at,
  level,
});
const slab = { form: "rail", at: spot(50), width_mm: 100, height_mm: 10, pivot: null, angle: 0, turn: 0 };

describe("a sheet", () => {
  it("keeps the words of a short axis apart, in further rows", () => {
    const made = layOut(
      scene({
        slabs: [slab] as Scene["slabs"],
        marks: [mark("left motor", 0, 1), mark("right motor", 4, 1), mark("centre distance", 0, 1, 4)],
      }),
      0,
      300,
      (mm) => `${mm} mm`,
    );
    const boxes = made.words.map((w) => boxOf(w.text, w.x, w.y, w.size));
    expect(boxes).toHaveLength(3);
    boxes.forEach((b, i) => {
      expect(b.left).toBeGreaterThanOrEqual(0);
      expect(b.right).toBeLessThanOrEqual(WIDTH);
      expect(b.top).toBeGreaterThanOrEqual(0);
      expect(boxes.slice(i + 1).some((o) => meet(o, b))).toBe(false);
      expect(made.dimensions.some((d) => crosses(d, b))).toBe(false);
    });
    expect(made.words.at(-1)!.text).toBe("centre distance 4 mm");
  });
  it("is no taller than it may be", () => {
    const tall = layOut(scene({ slabs: [{ ...slab, height_mm: 4000 }] as Scene["slabs"] }), 0, 230, String);
    expect(tall.height).toBeLessThanOrEqual(240);
  });
});

describe("obstacles", () => {
  it("follow an arc as it is drawn", () => {
    const half = arc([0, 0], [20, 0], 10, false, true);
    expect(half[6]![0]).toBeCloseTo(10);
    expect(half[6]![1]).toBeCloseTo(-10); // sweep with the clock: over the top of the page
    const other = arc([0, 0], [20, 0], 10, false, false);
    expect(other[6]![1]).toBeCloseTo(10);
    const large = arc([0, 0], [10, 0], 10, true, true);
    expect(Math.min(...large.map(([, y]) => y))).toBeLessThan(-15);
  });
  it("are the four sides of a slab, turned with it", () => {
    const f = { k: 1, left: 0, top: 0 };
    const arm = { ...slab, at: spot(50), pivot: spot(0), angle: Math.PI / 2 };
    const [side] = linesOf(scene({ slabs: [arm] as Scene["slabs"] }), f, 0);
    expect(side![0]).toBeCloseTo(-5);
    expect(side![1]).toBeCloseTo(0);
    expect(side![3]).toBeCloseTo(-100);
  });
});

it("a word is as wide as its letters", () => expect(widthOf("1234", 10)).toBeCloseTo(24.4));
