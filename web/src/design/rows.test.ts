/** Rows by their ids: what is said of one goes with it. */
import { describe, expect, it } from "vitest";
import type { Design } from "../api/client";
import { followed, inserted, keyed, moved, pathOf, refOf, without } from "./rows";

const design = {
  chain: [
    { id: "0", kind: "stepper" },
    { id: "1", kind: "gearbox" },
    { id: "2", kind: "closed_belt", rollers: [{ id: "0" }] },
  ],
  chosen: ["aim.speed_mm_s", "chain.1.ratio", "chain.2.form"],
  measured: [{ field: "chain.2.shaft_mm", value: 8 }],
  made: [{ key: "chain.2.belt_length", label: "belt", value: 400 }],
  done: [{ step: "chain_2_on", day: "2026-11-01", stood: { "chain.2": "abc" } }],
} as unknown as Design;
const after = (rows: Record<string, unknown>) => followed(design, { ...design, ...rows } as Design);

describe("rows", () => {
  it("take what was chosen, measured and made in them along", () => {
    const made = after(moved(design, "chain", 2, 1));
    expect(made.chain.map((s) => s.kind)).toEqual(["stepper", "closed_belt", "gearbox"]);
    expect(made.chosen).toEqual(["aim.speed_mm_s", "chain.2.ratio", "chain.1.form"]);
    expect(made.measured).toMatchObject([{ field: "chain.1.shaft_mm" }]);
    expect(made.made).toMatchObject([{ key: "chain.1.belt_length" }]);
  });
  it("make room for one that is put in between, which is known by an id of its own", () => {
    const made = after(inserted(design, "chain", 1, { kind: "coupler" }));
    expect(made.chosen).toEqual(["aim.speed_mm_s", "chain.2.ratio", "chain.3.form"]);
    const id = (made.chain[1] as { id?: string }).id!;
    expect(id).toMatch(/^[a-z0-9]{6}$/);
    expect(refOf(made, "chain.3.rollers.0.x_mm")).toBe("chain.2.rollers.0.x_mm");
    expect(pathOf(made, `chain.${id}.form`)).toBe("chain.1.form");
    expect(made.done, "a tick names its row by the id").toEqual(design.done);
  });
  it("take what was said of them away with them, and bring it to nobody else", () => {
    const made = after(without(design, "chain", 1));
    expect(made.chosen).toEqual(["aim.speed_mm_s", "chain.1.form"]);
    expect(made.measured).toMatchObject([{ field: "chain.1.shaft_mm" }]);
    expect(pathOf(made, "chain.1.ratio")).toBeNull();
  });
  it("that replace a whole list are new unless they bring an id", () => {
    const rows = keyed(design.chain, [design.chain[0], { kind: "worm" }], true) as { id: string }[];
    expect(rows[0]!.id).toBe("0");
    expect(rows[1]!.id).toMatch(/^[a-z0-9]{6}$/);
    expect(keyed(design.chain[1], { kind: "worm" }, false)).toEqual({ kind: "worm", id: "1" });
  });
});
