/** Picking a part: the numbers by which one picks, sorted; arrow keys and Enter; and forms that unfold. */
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { DrawerRow } from "../api/client";
import { NEVER, onBench, Refused, start } from "../testing/stage";
import { PartForm } from "./PartForm";
import { PartPicker } from "./PartPicker";
import { figuresOf, sortedBy } from "./picking";

afterEach(() => vi.unstubAllGlobals());

const row = (name: string, hold: number | null, price: number | null, more: object = {}) =>
  ({
    key: name,
    kind: "stepper",
    name,
    data: { hold_torque_nm: hold, rated_current_a: 2, ...more },
    quantity: 0,
    price,
    typical: null,
    source_kind: "estimate",
    source: "",
    version: 1,
  }) as unknown as DrawerRow;
const rows = [row("Big", 1.2, 30), row("Small", 0.2, 9), row("Middle", 0.65, 20), row("Unsaid", null, 5)];
const words = start.drawer.data;
const opened = async (answers: Record<string, unknown>) => {
  const session = await onBench(<PartPicker path="chain.0" />, { answers: { "/start": start, ...answers } });
  await userEvent.click(screen.getByRole("button", { name: "Stepper from the drawer" }));
  return session;
};
const names = () =>
  screen
    .getAllByRole("row")
    .slice(1)
    .map((r) => within(r).getAllByRole("cell")[0]!.textContent);

describe("the numbers one picks by", () => {
  it("are those that differ", () => {
    expect(figuresOf(rows, words).map((f) => f.name)).toEqual(["hold_torque_nm"]);
    expect(figuresOf([rows[0]!], words)).toEqual([]);
  });
  it("sort the rows, the smallest first, and of equal ones the cheapest; what is not said comes last", () => {
    const by = figuresOf(rows, words)[0];
    expect(sortedBy(rows, by).map((r) => r.name)).toEqual(["Small", "Middle", "Big", "Unsaid"]);
    const equal = [row("Dear", 1, 9), row("Cheap", 1, 3), row("Free", 1, null)];
    expect(sortedBy(equal, by).map((r) => r.name)).toEqual(["Cheap", "Dear", "Free"]);
    expect(sortedBy(rows, undefined)).toBe(rows);
  });
});

describe("a list to pick from", () => {
  it("shows them with their units, and sorts by the one that is pressed", async () => {
    await opened({ "/drawer": rows });
    expect(await screen.findByText("1.2 N·m")).toBeVisible();
    expect(names()).toEqual(["Big", "Small", "Middle", "Unsaid"]);
    await userEvent.click(screen.getByRole("button", { name: "hold" }));
    expect(names()).toEqual(["Small", "Middle", "Big", "Unsaid"]);
  });
  it("goes by arrow keys and takes by Enter; what the row states counts as chosen", async () => {
    const taken = {
      changes: { "chain.0.hold_torque_nm": 0.2, "chain.0.steps_per_turn": 200 },
      chosen: ["chain.0.hold_torque_nm"],
      assumed: ["full steps per turn"],
      follows: [],
    };
    const session = await opened({ "/drawer": rows, "/take": taken });
    await screen.findByText("1.2 N·m");
    expect(screen.getByRole("textbox", { name: "Search" })).toHaveFocus();
    await userEvent.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    expect(await screen.findByText("Taken, with some data assumed")).toBeVisible();
    expect(screen.getByText("full steps per turn")).toBeVisible();
    expect((session.get().design.chain[0] as { hold_torque_nm: number }).hold_torque_nm).toBe(0.2);
    expect(session.get().design.chosen).toEqual(["chain.0.hold_torque_nm"]);
  });
  it("narrows by words, and says when nothing is left", async () => {
    await opened({ "/drawer": rows });
    await screen.findByText("1.2 N·m");
    await userEvent.type(screen.getByRole("textbox", { name: "Search" }), "mid");
    expect(names()).toEqual(["Middle"]);
    await userEvent.type(screen.getByRole("textbox", { name: "Search" }), "zzz");
    expect(screen.getByText(/Nothing in the drawer fits/)).toBeVisible();
  });
  it("says that it is on its way, that it failed, and that a part cannot be taken", async () => {
    await opened({ "/drawer": NEVER });
    expect(await screen.findByText("Fetching the parts drawer…")).toBeVisible();
  });
  it("says why the drawer cannot be opened", async () => {
    await opened({ "/drawer": new Refused(503, { detail: "The file has gone." }) });
    expect(await screen.findByRole("alert")).toHaveTextContent("The file has gone.");
  });
  it("says why a part cannot be taken, and stays open", async () => {
    await opened({ "/drawer": rows, "/take": new Refused(422, { detail: "It does not fit." }) });
    await userEvent.click(await screen.findByRole("button", { name: "Take Big" }));
    expect(await screen.findByRole("alert")).toHaveTextContent("It does not fit.");
    expect(names()).toHaveLength(4);
  });
});

describe("the form of a part", () => {
  it("opens with what a maker knows, in the order of need, and folds the rest", async () => {
    await onBench(<PartForm path="chain.0" without={["driver"]} />);
    const first = [...document.querySelectorAll("[data-form] > div:first-child [data-path]")].map((e) =>
      e.getAttribute("data-path"),
    );
    expect(first).toEqual([
      "chain.0.frame",
      "chain.0.hold_torque_nm",
      "chain.0.rated_current_a",
      "chain.0.resistance_ohm",
      "chain.0.inductance_mh",
      "chain.0.rotor_inertia_gcm2",
    ]);
    expect(document.querySelector("details [data-path='chain.0.steps_per_turn']")).not.toBeNull();
    expect(screen.getByText("More").closest("summary")).toHaveTextContent("full steps per turn 200");
  });
  it("has a place for every part within it", async () => {
    await onBench(<PartForm path="chain.0" />);
    expect(screen.getByRole("heading", { name: "Driver" })).toBeVisible();
    expect(document.querySelector("[data-form='chain.0.driver']")).not.toBeNull();
  });
  it("says what a taken part did not state", async () => {
    await onBench(<PartForm path="chain.0" without={["driver"]} />, {
      of: (await import("../testing/stage")).design({
        chain: [
          { kind: "stepper", source: { kind: "estimate", note: "label; not stated, assumed: winding" } },
        ],
      }),
    });
    expect(screen.getByText(/does not state it: winding\./)).toBeVisible();
  });
});
