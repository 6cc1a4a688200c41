/** What the design's own schema says of fields, and paths through a design. */
import { describe, expect, it } from "vitest";
import type { Design } from "../api/client";
import { fieldAt, fieldsOf, kindsAt, modelAt, stepAt, whole, type Schema } from "./fields";
import { getAt, setAt } from "./path";

const schema: Schema = {
  $defs: {
    Stepper: {
      role: "motor",
      properties: {
        kind: { const: "stepper", default: "stepper" },
        hold_nm: {
          title: "Hold torque",
          type: "number",
          minimum: 0.1,
          maximum: 20,
          unit: "N·m",
          dimension: "torque",
          description: "Both phases on.",
        },
        shaft_form: { title: "Shaft Form", enum: ["flat", "round"], type: "string" },
        driver: { $ref: "#/$defs/Driver", step: "build" },
      },
    },
    Gearbox: {
      properties: {
        kind: { const: "gearbox", default: "gearbox" },
        ratio: { title: "Ratio", type: "number", minimum: 1, maximum: 100 },
      },
    },
    Driver: {
      title: "Driver",
      properties: {
        supply_v: { title: "Supply voltage", type: "number" },
        price: {
          title: "Price each",
          anyOf: [{ type: "number", minimum: 0 }, { type: "null" }],
          dimension: "money",
          bill: true,
        },
        in_stock: { title: "In the drawer", type: "boolean", bill: true },
        source: { $ref: "#/$defs/Source", hidden: true },
      },
    },
    Source: { properties: { kind: { enum: ["standard", "estimate"], type: "string" } } },
    Loop: {
      properties: {
        kind: { const: "loop", default: "loop" },
        gap_mm: { title: "Gap", type: "integer", minimum: 0 },
      },
    },
    Rack: {
      properties: {
        kind: { const: "rack", default: "rack" },
        gap_mm: { title: "Something else", type: "number" },
      },
    },
  },
  properties: {
    name: { title: "Name", type: "string", maxLength: 120 },
    chain: { step: "drive", items: { oneOf: [{ $ref: "#/$defs/Stepper" }, { $ref: "#/$defs/Gearbox" }] } },
    end: { oneOf: [{ $ref: "#/$defs/Loop" }, { $ref: "#/$defs/Rack" }] },
  },
};
const design = (end = "loop") =>
  ({ name: "A", chain: [{ kind: "stepper" }, { kind: "gearbox" }], end: { kind: end } }) as unknown as Design;

describe("fieldAt", () => {
  it("finds title, words, limits and unit through lists and references", () => {
    expect(fieldAt(schema, design(), "chain.0.hold_nm")).toMatchObject({
      title: "Hold torque",
      why: "Both phases on.",
      low: 0.1,
      high: 20,
      unit: "N·m",
      dimension: "torque",
      optional: false,
      whole: false,
    });
  });
  it("tells kinds apart at the same place", () => {
    expect(fieldAt(schema, design(), "chain.1.ratio").high).toBe(100);
    expect(fieldAt(schema, design("loop"), "end.gap_mm")).toMatchObject({ title: "Gap", whole: true });
    expect(fieldAt(schema, design("rack"), "end.gap_mm")).toMatchObject({
      title: "Something else",
      whole: false,
    });
  });
  it("knows fields that may be left empty", () => {
    expect(fieldAt(schema, design(), "chain.0.driver.price")).toMatchObject({
      optional: true,
      low: 0,
      dimension: "money",
    });
  });
  it("writes titles made from names as a sentence, and leaves given ones alone", () => {
    expect(fieldAt(schema, design(), "chain.0.shaft_form").title).toBe("Shaft form");
    expect(fieldAt(schema, design(), "chain.0.driver.supply_v").title).toBe("Supply voltage");
  });
  it("lists the choices of a choice and the length of a text", () => {
    expect(fieldAt(schema, design(), "chain.0.shaft_form").choices).toEqual(["flat", "round"]);
    expect(fieldAt(schema, design(), "name").longest).toBe(120);
  });
});

describe("fieldsOf", () => {
  it("gives every field its shape, parts last, without kind and source", () => {
    expect(fieldsOf(schema, design(), "chain.0").map((f) => [f.path, f.shape])).toEqual([
      ["chain.0.hold_nm", "number"],
      ["chain.0.shaft_form", "choice"],
      ["chain.0.driver", "part"],
    ]);
  });
  it("puts what a part costs behind what it is", () => {
    expect(fieldsOf(schema, design(), "chain.0.driver").map((f) => f.shape)).toEqual([
      "number",
      "number",
      "tick",
    ]);
  });
});

describe("whole", () => {
  const full: Schema = {
    $defs: {
      Stepper: {
        role: "motor",
        properties: {
          kind: { const: "stepper", default: "stepper" },
          hold_nm: { type: "number", default: 0.45 },
          driver: { $ref: "#/$defs/Driver", default: { supply_v: 24, price: null } },
        },
      },
      Gearbox: {
        properties: {
          kind: { const: "gearbox", default: "gearbox" },
          ratio: { type: "number", default: 5 },
          limit: { anyOf: [{ type: "number" }, { type: "null" }], default: null },
        },
      },
      Unknown: { properties: { kind: { type: "string" } } },
      Driver: {
        properties: {
          supply_v: { type: "number", default: 24 },
          price: { anyOf: [{ type: "number" }, { type: "null" }], default: null },
        },
      },
    },
    properties: {
      name: { type: "string", default: "New" },
      chain: {
        items: {
          oneOf: [{ $ref: "#/$defs/Stepper" }, { $ref: "#/$defs/Gearbox" }, { $ref: "#/$defs/Unknown" }],
        },
      },
    },
  };
  const of = (chain: object[], more: object = {}) =>
    whole(full, { name: "A", chain, ...more } as unknown as Design);
  it("fills a stage in by its kind, parts within it too", () => {
    expect(of([{ kind: "gearbox" }, { kind: "stepper", driver: { supply_v: 12 } }]).chain).toEqual([
      { kind: "gearbox", ratio: 5, limit: null },
      { kind: "stepper", hold_nm: 0.45, driver: { supply_v: 12, price: null } },
    ]);
  });
  it("keeps what stands there, nothing and unknown fields included", () => {
    expect(of([{ kind: "gearbox", ratio: 10, limit: null, later: 1 }]).chain).toEqual([
      { kind: "gearbox", ratio: 10, limit: null, later: 1 },
    ]);
  });
  it("leaves a kind that it does not know as it is", () => {
    expect(of([{ kind: "harmonic drive", cup: 3 }]).chain).toEqual([{ kind: "harmonic drive", cup: 3 }]);
  });
  it("gives back the very design where nothing is missing, and never shares a default", () => {
    const once = of([{ kind: "stepper" }]);
    expect(whole(full, once)).toBe(once);
    expect((of([{ kind: "stepper" }]).chain[0] as { driver: object }).driver).not.toBe(
      (once.chain[0] as { driver: object }).driver,
    );
  });
});

it("modelAt names the part at a path as the program does", () => {
  expect(modelAt(schema, design(), "chain.1")).toBe("Gearbox");
  expect(modelAt(schema, design(), "chain.0.driver")).toBe("Driver");
  expect(modelAt(schema, design("rack"), "end")).toBe("Rack");
});

it("stepAt takes the nearest step that a field or a part around it names", () => {
  expect(stepAt(schema, design(), "chain.0.hold_nm", "aim")).toBe("drive");
  expect(stepAt(schema, design(), "chain.0.driver.supply_v", "aim")).toBe("build");
  expect(stepAt(schema, design(), "end.gap_mm", "aim")).toBe("aim");
});

it("kindsAt names what may stand at a place", () => {
  expect(kindsAt(schema, "chain")).toEqual(["gearbox"]);
  expect(kindsAt(schema, "chain", "motor")).toEqual(["stepper"]);
  expect(kindsAt(schema, "end")).toEqual(["loop", "rack"]);
});

describe("paths", () => {
  it("reads and sets deep places without changing the original", () => {
    const tree = { a: [{ b: 1 }, { b: 2 }], c: 3 };
    const changed = setAt(tree, "a.1.b", 5);
    expect(getAt(changed, "a.1.b")).toBe(5);
    expect(tree.a[1]?.b).toBe(2);
    expect(changed.a[0]).toBe(tree.a[0]);
  });
  it("finds nothing where there is nothing", () => {
    expect(getAt({ a: null }, "a.b.c")).toBeUndefined();
    expect(getAt({}, "x.0.y")).toBeUndefined();
  });
  it("replaces a whole part", () => {
    expect(setAt({ chain: [{ kind: "a" }] }, "chain.0", { kind: "b" })).toEqual({ chain: [{ kind: "b" }] });
  });
});
