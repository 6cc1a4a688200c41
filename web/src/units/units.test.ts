import { describe, expect, it } from "vitest";
import { lower } from "./words";
import { number, plain, quantity } from "./format";
import { parse, type Units } from "./parse";

const units: Units = {
  length: {
    base: "mm",
    factors: { mm: 1, in: 25.4, '"': 25.4, ft: 304.8, m: 1000 },
    metric: "mm",
    imperial: "in",
  },
  torque: {
    base: "N·m",
    factors: { "N·m": 1, Nm: 1, ozin: 0.00706155, "oz·in": 0.00706155 },
    metric: "N·m",
    imperial: "oz·in",
  },
  "turning speed": { base: "rpm", factors: { rpm: 1 }, metric: "rpm", imperial: "rpm" },
  count: { base: "", factors: {}, metric: "", imperial: "" },
};
const value = (text: string, dimension = "length", shown = "mm") => {
  const got = parse(text, dimension, units, shown);
  return got.ok ? got.value : got.why;
};

describe("what may be typed", () => {
  it.each([
    ["30in", 762],
    ["3/8 in", 9.525],
    ["1 1/2 in", 38.1],
    ["1 1/2in", 38.1],
    ['3/8"', 9.525],
    ["1ft 6in", 457.2],
    ["12", 12],
    ["12,5", 12.5],
    [".5", 0.5],
    ["1.2e3", 1200],
    ["-3 mm", -3],
    ["  0.5 m ", 500],
  ])("%s", (text, mm) => expect(value(text)).toBeCloseTo(mm, 9));

  it("takes a bare number in the unit shown", () => expect(value("2", "length", "in")).toBeCloseTo(50.8));
  it("forgives dots, spaces and case", () => {
    expect(value("180 OZ IN", "torque", "N·m")).toBeCloseTo(1.271079);
    expect(value("180 oz-in", "torque", "N·m")).toBeCloseTo(1.271079);
  });
  it("says what is wrong", () => {
    expect(value("300 rpm")).toBe('“rpm” is a unit of turning speed; this field takes mm, in, ", ft, m.');
    expect(value("3 zz")).toContain("no unit that this field knows");
    expect(value("abc")).toBe("“abc” is not a number.");
    expect(value("1 2")).toBe("“1 2” is not one number.");
    expect(value("1/0")).toBe("“1/0” is not a number.");
    expect(value("")).toBe("Enter a number.");
    expect(value("20 mm", "count", "")).toContain("plain number");
  });
});

describe("how numbers are shown", () => {
  it.each([
    [0.012345, "0.0123"],
    [1550, "1550"],
    [36999, "36\u202f999"],
    [1234567, "1\u202f234\u202f567"],
    [-2.5, "−2.5"],
    [0, "0"],
    [100, "100"],
    [0.00001, "0.00001"],
  ])("%d", (got, text) => expect(number(got, got > 9999 ? 7 : 3)).toBe(text));
  it("shows nothing for nothing", () => expect(number(null)).toBe("–"));
  it("shows both systems", () => {
    expect(quantity(25.4, "mm", units, "imperial")).toEqual({
      text: "1",
      unit: "in",
      said: "1 in",
      both: "25.4 mm = 1 in",
    });
    expect(quantity(3, "teeth", units, "metric")).toEqual({
      text: "3",
      unit: "teeth",
      said: "3 teeth",
      both: "3 teeth",
    });
  });
  it("types back what it showed", () => expect(plain(0.1 + 0.2)).toBe("0.3"));
});

describe("words within a sentence", () => {
  it("begin small, but an acronym stays", () => {
    expect([lower("Detent torque"), lower("PWM duty"), lower("H"), lower("")]).toEqual([
      "detent torque",
      "PWM duty",
      "h",
      "",
    ]);
  });
});
