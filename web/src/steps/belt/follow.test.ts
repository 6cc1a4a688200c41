import { describe, expect, it } from "vitest";
import { Refusal } from "../../api/client";
import { moved, Newest } from "./follow";

const idler = [
  {
    field: "end.idler_offset_mm",
    value: 20,
    dx: 1,
    dy: 0,
    whole: false,
    snaps: [{ value: 24.4, says: "whole teeth" }],
  },
  { field: "end.idler_rise_mm", value: 0, dx: 0, dy: 1, whole: false, snaps: [] },
];

describe("moved", () => {
  it("puts free places on the grid and leaves alone what does not move", () => {
    expect(moved(idler, 2.3, 0, { step: 1, reach: 0.5 })).toEqual({
      changes: { "end.idler_offset_mm": 22 },
      says: [],
    });
    expect(moved(idler, 0, -3.6, { step: 1, reach: 0.5 }).changes).toEqual({ "end.idler_rise_mm": -4 });
  });
  it("falls into a good place nearby and says why", () => {
    expect(moved(idler, 4.1, 0, { step: 1, reach: 0.5 })).toEqual({
      changes: { "end.idler_offset_mm": 24.4 },
      says: ["whole teeth"],
    });
  });
  it("moves freely when asked to", () => {
    expect(moved(idler, 4.123, 0, { step: 0, reach: 0 }).changes).toEqual({ "end.idler_offset_mm": 24.123 });
  });
  it("keeps whole numbers whole", () => {
    expect(
      moved([{ field: "chain.1.belt_teeth", value: 120, dx: 0.98, dy: 0, whole: true, snaps: [] }], 3.2, 0, {
        step: 1,
        reach: 0,
      }).changes,
    ).toEqual({ "chain.1.belt_teeth": 123 });
  });
});

describe("Newest", () => {
  it("drops what was asked in between", async () => {
    const heard: number[] = [];
    let free = () => {};
    const asked: number[] = [];
    const newest = new Newest<number, number>(
      (q) => (asked.push(q), q === 1 ? new Promise((done) => (free = () => done(q))) : Promise.resolve(q)),
      (a) => a !== null && heard.push(a),
    );
    const first = newest.ask(1);
    void newest.ask(2);
    void newest.ask(3);
    free();
    await first;
    expect(asked).toEqual([1, 3]);
    expect(heard).toEqual([1, 3]);
  });
  it("tells a refusal with its problems, and goes on", async () => {
    const told: string[] = [];
    const newest = new Newest<string, string>(
      (q) =>
        q === "bad"
          ? Promise.reject(
              new Refusal(422, "no", [
                { field: "end.idler", message: "overlaps", value: "", limit: "", unit: "", remedy: "" },
              ]),
            )
          : Promise.resolve(q),
      (a, _, problems) => told.push(a ?? problems[0]!.message),
    );
    await newest.ask("bad");
    await newest.ask("good");
    expect(told).toEqual(["overlaps", "good"]);
  });
  it("tells nothing that comes after the hand let go, and follows the next hand", async () => {
    const heard: number[] = [];
    let free = () => {};
    const newest = new Newest<number, number>(
      (q) => (q === 1 ? new Promise((done) => (free = () => done(q))) : Promise.resolve(q)),
      (a) => a !== null && heard.push(a),
    );
    const first = newest.ask(1);
    void newest.ask(2);
    newest.stop();
    void newest.ask(3);
    free();
    await first;
    expect(heard).toEqual([3]);
  });
});
