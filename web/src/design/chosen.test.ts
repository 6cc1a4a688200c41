/** Who chose what, and what becomes of it when rows move. */
import { describe, expect, it } from "vitest";
import type { Design } from "../api/client";
import { chosenAfter, inserted, leaves, moved, reordered, without } from "./chosen";

const design = {
  chain: [{ kind: "stepper" }, { kind: "gearbox" }, { kind: "coupler" }],
  chosen: ["aim.speed_mm_s", "chain.1.ratio", "chain.2.form"],
  measured: [{ field: "chain.2.shaft_mm", value: 8 }],
} as unknown as Design;

describe("what is chosen", () => {
  it("is every number and word within", () => {
    expect(leaves("chain.0", { kind: "stepper", driver: { supply_v: 24 }, price: null })).toEqual([
      "chain.0.kind",
      "chain.0.driver.supply_v",
      "chain.0.price",
    ]);
  });
  it("is kept beside what was chosen before, once", () => {
    expect(
      chosenAfter(["aim.speed_mm_s"], { "aim.speed_mm_s": 3 }, ["aim.speed_mm_s", "aim.error_mm"]),
    ).toEqual(["aim.speed_mm_s", "aim.error_mm"]);
  });
  it("is forgotten with the part that it belonged to", () => {
    expect(chosenAfter(["chain.0.shaft_mm", "chain.1.ratio"], { "chain.0": { kind: "x" } }, [])).toEqual([
      "chain.1.ratio",
    ]);
  });
  it("is not what the program keeps the books of", () => {
    expect(chosenAfter([], { done: ["a"] }, leaves("done", ["a"]))).toEqual([]);
  });
});

describe("rows", () => {
  it("take what was chosen and measured in them along", () => {
    const change = moved(design, "chain", 2, 1);
    expect(change.chain).toEqual([{ kind: "stepper" }, { kind: "coupler" }, { kind: "gearbox" }]);
    expect(change.chosen).toEqual(["aim.speed_mm_s", "chain.2.ratio", "chain.1.form"]);
    expect(change.measured).toEqual([{ field: "chain.1.shaft_mm", value: 8 }]);
  });
  it("make room for one that is put in between", () => {
    const change = inserted(design, "chain", 1, { kind: "clutch" });
    expect((change.chain as { kind: string }[]).map((s) => s.kind)).toEqual([
      "stepper",
      "clutch",
      "gearbox",
      "coupler",
    ]);
    expect(change.chosen).toEqual(["aim.speed_mm_s", "chain.2.ratio", "chain.3.form"]);
  });
  it("go with what was chosen and measured in them", () => {
    const change = without(design, "chain", 2);
    expect(change.chosen).toEqual(["aim.speed_mm_s", "chain.1.ratio"]);
    expect(change.measured).toEqual([]);
  });
  it("leave what is measured alone where nothing is", () => {
    expect(reordered({ moving: [1, 2] } as unknown as Design, "moving", [1])).toEqual({
      moving: [2],
      chosen: [],
    });
  });
});
