/** Fields of the design: what may be typed, what is refused and why, what is assumed, folded, measured and listed. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { getAt } from "../design/path";
import { design, onBench, Refused, report, shown, start } from "../testing/stage";
import { AssumedHere } from "./assumed";
import { Folded } from "./Folded";
import { FreeNumber } from "./FreeNumber";
import { ListOf } from "./ListOf";
import { neighbour, NumberField, refusal } from "./NumberField";
import { ChoiceField, TextField, TickField } from "./OtherFields";

afterEach(() => {
  vi.unstubAllGlobals();
  localStorage.clear();
});

const speed = () => screen.getByRole("textbox", { name: "Speed" });

describe("a number", () => {
  it("is shown with its unit, why it is asked for and what it may be", async () => {
    await onBench(<NumberField path="aim.error_mm" />);
    const field = screen.getByRole("textbox", { name: "Error allowed" });
    expect(field).toHaveValue("0.3");
    expect(screen.getByText("mm")).toBeVisible();
    expect(field).toHaveAttribute("title", expect.stringContaining("from 0.0001 to 100 mm"));
    expect(field).toHaveAttribute("title", expect.stringContaining("0.3 mm = 0.011811 in"));
  });
  it("says under it what to do when one does not know it, as long as it has the focus", async () => {
    await onBench(<NumberField path="aim.push_n" />);
    const field = screen.getByRole("textbox", { name: "Push against" });
    const hint = () => screen.queryByText("Force of the tool or the work along the travel.");
    expect(hint()).toBeNull();
    await userEvent.click(field);
    expect(hint()).toBeVisible();
    await userEvent.clear(field);
    await userEvent.type(field, "x");
    expect(hint()).toBeNull(); // what is wrong goes first
    await userEvent.keyboard("{Escape}");
    expect(hint()).toBeVisible();
    await userEvent.tab();
    expect(hint()).toBeNull();
  });
  it("takes another unit and says what it understood", async () => {
    const session = await onBench(<NumberField path="aim.speed_mm_s" />);
    await userEvent.clear(speed());
    await userEvent.type(speed(), "10 in/s");
    expect(screen.getByRole("status")).toHaveTextContent("= 254 mm/s");
    expect(session.get().design.aim.speed_mm_s).toBe(254);
  });
  it("is not altered by what it cannot take, and says why and what still counts", async () => {
    const session = await onBench(<NumberField path="aim.speed_mm_s" />);
    await userEvent.clear(speed());
    await userEvent.type(speed(), "90000");
    expect(screen.getByRole("alert")).toHaveTextContent(
      "This takes at most 20 000 mm/s, at least 0.01 mm/s. Still 9000 mm/s.",
    );
    expect(speed()).toBeInvalid();
    expect(speed()).toHaveValue("90000");
    expect(session.get().design.aim.speed_mm_s).toBe(9000);
    await userEvent.keyboard("{Escape}");
    expect(speed()).toHaveValue("9000");
    expect(speed()).toBeValid();
  });
  it("says which unit is foreign to it", async () => {
    await onBench(<NumberField path="aim.speed_mm_s" />);
    await userEvent.clear(speed());
    await userEvent.type(speed(), "3 kg");
    expect(screen.getByRole("alert")).toHaveTextContent("“kg” is a unit of mass");
  });
  it("walks by arrow keys, in larger steps with Shift, and along what can be bought", async () => {
    const session = await onBench(
      <>
        <NumberField path="aim.speed_mm_s" />
        <NumberField path="end.belt.width_mm" sizes={[6, 9, 10, 15]} label="Width" />
      </>,
    );
    speed().focus();
    await userEvent.keyboard("{ArrowUp}");
    expect(session.get().design.aim.speed_mm_s).toBe(210);
    await userEvent.keyboard("{Shift>}{ArrowDown}{/Shift}");
    expect(session.get().design.aim.speed_mm_s).toBe(110);
    screen.getByRole("textbox", { name: "Width" }).focus();
    await userEvent.keyboard("{ArrowUp}");
    expect(getAt(session.get().design, "end.belt.width_mm")).toBe(9);
  });
  it("is empty where it may be, and says nothing then", async () => {
    const session = await onBench(<NumberField path="aim.budget" />, {
      of: design({ aim: { budget: 50, currency: "€" } }),
    });
    const field = screen.getByRole("textbox", { name: "Budget" });
    expect(screen.getByText("€")).toBeVisible();
    await userEvent.clear(field);
    expect(session.get().design.aim.budget).toBeNull();
    expect(field).toHaveAttribute("placeholder", "–");
    expect(screen.queryByRole("alert")).toBeNull();
  });
  it("says what the program says of it", async () => {
    await onBench(<NumberField path="guide.rail_mm" />, {
      report: () =>
        new Refused(422, {
          detail: "no",
          problems: [
            {
              field: "guide.rail_mm",
              message: "is shorter than its carriage",
              value: "10",
              limit: "80",
              unit: "mm",
              remedy: "Take a longer rail.",
            },
          ],
        }),
    });
    expect(screen.getByRole("alert")).toHaveTextContent(
      "is shorter than its carriage (limit 80 mm). Take a longer rail.",
    );
  });
  it("shows inches to whom wants them, and takes a bare number as such", async () => {
    localStorage.setItem("crisp-cadence.units", '"imperial"');
    const session = await onBench(<NumberField path="guide.rail_mm" />, {
      of: design({ guide: { rail_mm: 762 } }),
    });
    const rail = screen.getByRole("textbox", { name: "Rail length" });
    expect(rail).toHaveValue("30");
    await userEvent.clear(rail);
    await userEvent.type(rail, "40");
    expect(session.get().design.guide.rail_mm).toBe(1016);
  });
  it("can be measured on the real thing, which counts instead", async () => {
    const session = await onBench(<NumberField path="guide.rail_mm" />);
    await userEvent.click(screen.getByRole("button", { name: "Enter the measured rail" }));
    const found = screen.getByRole("textbox", { name: "Measured rail" });
    await userEvent.clear(found);
    await userEvent.type(found, "701");
    expect(session.get().design.measured).toEqual([{ field: "guide.rail_mm", value: 701 }]);
    expect(screen.getByText(/counts instead of what is drawn, \+1 mm/)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Drop the measured rail" }));
    expect(session.get().design.measured).toEqual([]);
  });
});

describe("limits and steps", () => {
  it("name both ends", () => {
    expect(refusal({ low: 1, high: 5, whole: false }, 0, 1, "mm")).toBe("at least 1 mm, at most 5 mm");
    expect(refusal({ low: undefined, high: 5, whole: false }, 9, 1, "")).toBe("at most 5");
    expect(refusal({ low: 0, high: 5, whole: true }, 1.5, 1, "")).toBe("a whole number");
    expect(refusal({ low: 0, high: 5, whole: true }, 2, 1, "")).toBe("");
  });
  it("end where nothing more can be bought", () => {
    const by = { bought: [6, 9], whole: false, factor: 1, large: false };
    expect(neighbour(9, true, by)).toBeUndefined();
    expect(neighbour(7, true, by)).toBe(9);
    expect(neighbour(7, false, by)).toBe(6);
    expect(neighbour(12, true, { ...by, bought: undefined, whole: true })).toBe(13);
  });
});

describe("other fields", () => {
  it("choose, say and tick", async () => {
    const session = await onBench(
      <>
        <ChoiceField path="guide.kind" />
        <TextField path="name" />
        <TickField path="end.pulley.sleeve" />
      </>,
    );
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Guide" }), "linear rail");
    await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "!");
    await userEvent.click(screen.getByRole("checkbox"));
    const made = session.get().design;
    expect([made.guide.kind, made.name, getAt(made, "end.pulley.sleeve")]).toEqual([
      "linear rail",
      "Slide!",
      true,
    ]);
  });
  it("take a free number, more than nothing unless nothing is one", async () => {
    const heard = vi.fn();
    shown(
      <>
        <FreeNumber label="Pushed" dimension="length" units={start.units} name="a" onValue={heard} />
        <FreeNumber
          label="Cost"
          dimension="money"
          unit="€"
          orNone
          units={start.units}
          name="b"
          onValue={heard}
        />
      </>,
    );
    const pushed = screen.getByRole("textbox", { name: "Pushed" });
    await userEvent.type(pushed, "0");
    expect(screen.getByRole("alert")).toHaveTextContent("More than nothing.");
    expect(heard).toHaveBeenLastCalledWith(null);
    await userEvent.clear(pushed);
    await userEvent.type(pushed, "1 in");
    expect(heard).toHaveBeenLastCalledWith(25.4);
    await userEvent.type(screen.getByRole("textbox", { name: "Cost" }), "0");
    expect(heard).toHaveBeenLastCalledWith(0);
  });
  it("that was typed before the units were there is read once they are", async () => {
    const heard = vi.fn();
    function Waiting() {
      const [units, setUnits] = useState({});
      return (
        <>
          <FreeNumber label="Off by" dimension="length" units={units} name="a" onValue={heard} />
          <button onClick={() => setUnits(start.units)}>They come</button>
        </>
      );
    }
    shown(<Waiting />);
    await userEvent.type(screen.getByRole("textbox", { name: "Off by" }), "1 in");
    expect(heard).toHaveBeenLastCalledWith(null);
    await userEvent.click(screen.getByRole("button", { name: "They come" }));
    expect(heard).toHaveBeenLastCalledWith(25.4);
    expect(screen.queryByRole("alert")).toBeNull();
  });
  it("are set with what they carry, in one step", async () => {
    const session = await onBench(<ChoiceField path="chain.0.frame" />);
    expect(getAt(session.get().design, "chain.0.shaft_mm")).toBe(5);
    await userEvent.selectOptions(screen.getByRole("combobox", { name: /Frame/ }), "NEMA 23");
    expect(getAt(session.get().design, "chain.0.shaft_mm")).toBe(6.35);
    expect(session.get().design.chosen).not.toContain("chain.0.shaft_mm");
    session.undo();
    expect(getAt(session.get().design, "chain.0.shaft_mm")).toBe(5);
    expect(getAt(session.get().design, "chain.0.frame")).toBe("NEMA 17");
  });
});

describe("what nobody has chosen", () => {
  const some = report({ assumed: ["aim.speed_mm_s", "guide.kind", "end.pulley.teeth"] });
  it("is marked at its field", async () => {
    await onBench(
      <>
        <NumberField path="aim.speed_mm_s" />
        <NumberField path="aim.error_mm" />
        <ChoiceField path="guide.kind" />
      </>,
      { report: some },
    );
    expect(speed()).toHaveAttribute("data-assumed");
    expect(speed()).toHaveAttribute("title", expect.stringContaining("nobody has chosen this value"));
    expect(screen.getByRole("textbox", { name: "Error allowed" })).not.toHaveAttribute("data-assumed");
    expect(screen.getByRole("combobox", { name: "Guide" })).toHaveAttribute("data-assumed");
  });
  it("is counted on its own step, and kept one by one or all together", async () => {
    const session = await onBench(<AssumedHere step="aim" />, { report: some });
    await userEvent.click(screen.getByText("2 values of this step assumed"));
    expect(screen.getByRole("button", { name: "Speed" })).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Keep Speed" }));
    expect(session.get().design.chosen).toEqual(["aim.speed_mm_s"]);
    await userEvent.click(screen.getByRole("button", { name: "Keep all 2" }));
    expect(session.get().design.chosen).toEqual(["aim.speed_mm_s", "guide.kind"]);
    session.undo();
    expect(session.get().design.chosen).toEqual(["aim.speed_mm_s"]);
  });
  it("is chosen by being typed, the same value too", async () => {
    const session = await onBench(<NumberField path="aim.speed_mm_s" />, { report: some });
    await userEvent.clear(speed());
    await userEvent.type(speed(), "200");
    expect(session.get().design.chosen).toContain("aim.speed_mm_s");
  });
  it("says nothing where everything was chosen", async () => {
    await onBench(<AssumedHere step="aim" />);
    expect(screen.queryByText(/assumed/)).toBeNull();
  });
});

describe("folds", () => {
  it("show what is in force in a line, with how much of it is assumed", async () => {
    await onBench(
      <Folded title="What it holds back" paths={["guide.friction", "guide.drag_n", "aim.budget"]}>
        <NumberField path="guide.friction" />
      </Folded>,
      { report: report({ assumed: ["guide.drag_n"] }) },
    );
    const fold = screen.getByText("What it holds back").closest("summary")!;
    expect(fold).toHaveTextContent("drag of seals and preload 2 N (1 assumed)");
    expect(fold).not.toHaveTextContent("budget");
  });
});

describe("lists", () => {
  it("grow, shrink, and keep the least they must hold", async () => {
    const session = await onBench(
      <ListOf list="moving" add="Add a line" least={1} fresh={() => ({ label: "Arm", mass_kg: 0.1 })}>
        {(at) => <TextField path={`${at}.label`} label={at} />}
      </ListOf>,
    );
    expect(screen.getByRole("button", { name: "Remove Carriage" })).toBeDisabled();
    await userEvent.click(screen.getByRole("button", { name: "Add a line" }));
    expect(session.get().design.moving.map((m) => m.label)).toEqual(["Carriage", "Arm"]);
    await userEvent.click(screen.getByRole("button", { name: "Remove Carriage" }));
    await waitFor(() => expect(screen.getByRole("textbox")).toHaveValue("Arm"));
    expect(within(document.body).getAllByRole("textbox")).toHaveLength(1);
  });
});
