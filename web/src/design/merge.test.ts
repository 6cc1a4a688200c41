/** Changes of two windows: field by field, row by row; only the same field is a question. */
import { describe, expect, it } from "vitest";
import type { Design } from "../api/client";
import { laid, laidDesigns } from "./merge";
import { followed, inserted } from "./rows";

const base = {
  aim: { speed: 500, travel: 300 },
  rows: [
    { id: "a", n: 1 },
    { id: "b", n: 2 },
  ],
  words: ["x", "y"],
};
type Base = typeof base;
const clashless = (mine: Base, theirs: Base) => {
  const { made, clashes } = laid(base, mine, theirs);
  expect(clashes).toEqual([]);
  return made;
};

describe("two windows", () => {
  it("leave what only the other one has set", () => {
    const made = clashless(
      { ...base, aim: { speed: 500, travel: 310 } },
      { ...base, aim: { speed: 123, travel: 300 } },
    );
    expect(made.aim).toEqual({ speed: 123, travel: 310 });
  });
  it("ask where both have set the same to something else, and show both", () => {
    const mine = { ...base, aim: { speed: 400, travel: 310 } };
    const theirs = { ...base, aim: { speed: 123, travel: 300 } };
    const { made, clashes } = laid(base, mine, theirs);
    expect(clashes).toEqual([{ ref: "aim.speed", mine: 400, theirs: 123 }]);
    expect(made.aim).toEqual({ speed: 123, travel: 310 });
    expect(laid(base, mine, theirs, new Map([["aim.speed", true]])).made.aim.speed).toBe(400);
  });
  it("are not asked where both have set the same to the same", () => {
    const both = { ...base, aim: { speed: 1, travel: 300 } };
    expect(clashless(both, structuredClone(both)).aim.speed).toBe(1);
  });
  it("put rows in, change them and take them out side by side", () => {
    const mine = { ...base, rows: [base.rows[0]!, { id: "m", n: 9 }, base.rows[1]!] };
    const theirs = {
      ...base,
      rows: [
        { id: "t", n: 8 },
        { id: "a", n: 7 },
      ],
    };
    expect(clashless(mine, theirs).rows).toEqual([
      { id: "t", n: 8 },
      { id: "a", n: 7 },
      { id: "m", n: 9 },
    ]);
  });
  it("ask of a row that one takes out and the other changes", () => {
    const mine = { ...base, rows: [base.rows[0]!] };
    const theirs = { ...base, rows: [base.rows[0]!, { id: "b", n: 3 }] };
    expect(laid(base, mine, theirs).clashes).toEqual([
      { ref: "rows.b", mine: undefined, theirs: { id: "b", n: 3 } },
    ]);
    expect(laid(base, mine, theirs, new Map([["rows.b", true]])).made.rows).toEqual([base.rows[0]]);
  });
  it("keep the order of whoever has moved rows", () => {
    const mine = { ...base, rows: [base.rows[1]!, base.rows[0]!] };
    const theirs = { ...base, rows: [...base.rows, { id: "t", n: 8 }] };
    expect(clashless(mine, theirs).rows.map((r) => r.id)).toEqual(["b", "t", "a"]);
  });
  it("join lists of words", () => {
    const made = clashless({ ...base, words: ["x", "y", "mine"] }, { ...base, words: ["y", "theirs"] });
    expect([...made.words].sort()).toEqual(["mine", "theirs", "y"]);
  });
  it("know nothing in common where the revision that they began from has gone", () => {
    const { clashes } = laid({} as Base, { ...base, aim: { speed: 1, travel: 300 } }, base);
    expect(clashes).toEqual([{ ref: "aim.speed", mine: 1, theirs: 500 }]);
  });
});

describe("two windows at a design", () => {
  const design = {
    chain: [
      { id: "0", kind: "stepper" },
      { id: "1", kind: "gearbox", ratio: 5 },
    ],
    measured: [],
    chosen: [],
    done: [],
  } as unknown as Design;
  it("keep what one measures at the stage that it is of, where the other puts one before it", () => {
    const mine = { ...design, measured: [{ field: "chain.1.ratio", value: 5.2 }] } as unknown as Design;
    const theirs = followed(design, {
      ...design,
      ...inserted(design, "chain", 1, { kind: "coupler" }),
    } as Design);
    const { made, clashes } = laidDesigns(design, mine, theirs);
    expect(clashes).toEqual([]);
    expect(made.measured).toMatchObject([{ field: "chain.2.ratio", value: 5.2 }]);
  });
  it("tick different steps", () => {
    const tick = (step: string) => ({ step, day: "2026-12-01", stood: {} });
    const { made, clashes } = laidDesigns(
      design,
      { ...design, done: [tick("a")] },
      { ...design, done: [tick("b")] },
    );
    expect(clashes).toEqual([]);
    expect(made.done.map((d) => (typeof d === "string" ? d : d.step)).sort()).toEqual(["a", "b"]);
  });
});
