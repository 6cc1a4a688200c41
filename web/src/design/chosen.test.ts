/** Who chose what, and what becomes of it when rows move. */
import { describe, expect, it } from "vitest";
import { chosenAfter, leaves } from "./chosen";

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
