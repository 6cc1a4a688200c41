/** Places and boxes of scenes, and outlines of pulleys. */
import { describe, expect, it } from "vitest";
import type { Scene } from "../api/client";
import { at, bounds } from "./shapes";
import { stacked } from "./stack";
import { groove, pulleyOutline } from "./tooth";

const still = { x_mm: 0, y_mm: 0, dx: 0, dy: 0 };
const scene = (more: Partial<Scene>): Scene => ({
  title: "",
  point: "Carriage",
  travel_mm: 100,
  wheels: [],
  strands: [],
  slabs: [],
  marks: [],
  ...more,
});
const slab = (more: Partial<Scene["slabs"][number]>): Scene["slabs"][number] => ({
  form: "carriage",
  at: still,
  width_mm: 10,
  height_mm: 4,
  pivot: null,
  angle: 0,
  turn: 0,
  ...more,
});

describe("at", () => {
  it("moves a spot with the travel and turns y upwards", () => {
    const frame = { k: 2, left: -5, top: 50 };
    expect(at(frame, still, 0)).toEqual([10, 100]);
    expect(at(frame, { x_mm: 0, y_mm: 10, dx: 1, dy: 0.5 }, 20)).toEqual([50, 60]);
  });
});

describe("bounds", () => {
  it("holds a slab at both ends of its travel", () => {
    expect(bounds(scene({ slabs: [slab({ at: { ...still, dx: 1 } })] }))).toEqual({
      left: -5,
      right: 105,
      low: -2,
      high: 2,
    });
  });
  it("holds an arm over its whole swing", () => {
    const box = bounds(
      scene({
        slabs: [
          slab({
            at: { ...still, x_mm: 50 },
            width_mm: 100,
            pivot: still,
            angle: 0,
            turn: Math.PI / 2 / 100,
          }),
        ],
      }),
    );
    expect(box.high).toBeGreaterThan(99);
    expect(box.right).toBeGreaterThan(99);
    expect(box.left).toBeGreaterThan(-10);
  });
  it("holds wheels and strands", () => {
    const wheel = {
      name: "",
      form: "drum",
      at: still,
      radius_mm: 20,
      outside_mm: 22,
      bore_mm: 5,
      turn: 0,
      teeth: 0,
      pitch_mm: 0,
      tooth_mm: 0,
      flank_deg: null,
      wrap_deg: null,
      meshed: null,
      field: "",
    } as Scene["wheels"][number];
    const rope = {
      form: "rope",
      runs: 1,
      pitch_mm: 0,
      pieces: [
        {
          start: { ...still, x_mm: 20 },
          stop: { ...still, x_mm: 20, y_mm: -500, dy: 1 },
          radius_mm: 0,
          ccw: false,
          large: false,
        },
      ],
    } as Scene["strands"][number];
    expect(bounds(scene({ wheels: [wheel], strands: [rope] }))).toMatchObject({
      left: -22,
      high: 22,
      low: -500,
    });
  });
});

describe("pulley outlines", () => {
  const t = {
    teeth: 20,
    pitchRadius: 6.366,
    outsideRadius: 6.112,
    pitch: 2,
    toothHeight: 0.75,
    flankDeg: null,
  };
  const points = (d: string) =>
    [...d.matchAll(/(-?\d+\.\d{3}) (-?\d+\.\d{3})/g)].map((m) => Math.hypot(Number(m[1]), Number(m[2])));
  it("have as many grooves as teeth, between root and rim", () => {
    const d = pulleyOutline(t);
    expect(d.match(/Q/g)).toHaveLength(20);
    const radii = points(d.replace(/Q[^LA]*/g, "").replace(/A\S+ \S+ 0 0 1 /g, "L"));
    expect(Math.max(...radii)).toBeCloseTo(6.112, 2);
    expect(Math.min(...radii)).toBeGreaterThan(6.112 - 0.75 - 0.01);
    expect(d.startsWith("M")).toBe(true);
    expect(d.endsWith("Z")).toBe(true);
  });
  it("have straight flanks where the profile has an angle, narrower at the root", () => {
    const trapezoid = { ...t, flankDeg: 40, pitch: 5, toothHeight: 1.2, outsideRadius: 15.5 };
    expect(pulleyOutline(trapezoid)).not.toContain("Q");
    expect(groove(trapezoid).bottom).toBeLessThan(groove(trapezoid).rim);
  });
});

it("pieces are laid end to end", () => {
  expect(stacked([2, 3, 5])).toEqual([0, 2, 5]);
  expect(stacked([])).toEqual([]);
});
