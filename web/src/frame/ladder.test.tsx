/** The ladder: every target with its verdict in words, opened to what helps; loading, failure and what is out of date. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useLocation } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import { NEVER, onBench, Refused, report, rung } from "../testing/stage";
import { Figure } from "./Figure";
import { Ladder } from "./Ladder";
import { Saving, Unworked } from "./Saving";
import { VerdictMark } from "./verdict";

afterEach(() => vi.unstubAllGlobals());

const Where = () => {
  const { pathname, hash } = useLocation();
  return <p data-testid="where">{pathname + hash}</p>;
};
const open = (name: RegExp) => userEvent.click(screen.getByRole("button", { name }));

const change = (key: string, before: number, after: number, says = "Raise the supply voltage") => ({
  first: {
    says,
    before: "12 V",
    after: "24 V",
    field: "chain.0.driver.supply_v",
    changes: {},
    kind: "setting",
  },
  others: [],
  changes: { "chain.0.driver.supply_v": 24 },
  effects: [{ key, label: "Speed", before, after, verdict: "holds" }],
  in_words: "holds",
});
const line = (singles: unknown[]) => ({ done: 1, answer: { singles, tried: 1, says: "", plans_tried: 0 } });

describe("a rung", () => {
  it("says target, ratio and verdict, what is asked and what is there", async () => {
    await onBench(<Ladder />);
    const row = screen.getByRole("button", { name: /Speed it can reach/ });
    expect(row).toHaveTextContent("1.5× holds");
    expect(row).toHaveTextContent("200 asked");
    expect(row).toHaveTextContent("300 mm/s there");
    expect(row).toHaveAttribute("aria-expanded", "false");
  });
  it("says comes out and allowed where less is better, its case, and that it is advice", async () => {
    await onBench(<Ladder />, {
      report: report({
        ladder: [rung({ lower_is_better: true, advisory: true, case: "empty head" })],
      }),
    });
    const row = screen.getByRole("button", { name: /Speed it can reach/ });
    expect(row).toHaveTextContent("· advice · empty head");
    expect(row).toHaveTextContent("200 comes out");
    expect(row).toHaveTextContent("300 mm/s allowed");
  });
  it("says what it lacks, and leads there", async () => {
    await onBench(
      <>
        <Ladder />
        <Where />
      </>,
      {
        report: report({
          ladder: [rung({ verdict: "unknown", ratio: null, missing: ["chain.0.inductance_mh"] })],
        }),
      },
    );
    await open(/Speed it can reach/);
    expect(screen.getByText("lacks inductance")).toBeVisible();
    await open(/Go to/);
    expect(screen.getByTestId("where")).toHaveTextContent("/axis/abc/drive#chain.0.inductance_mh");
  });
  it("counts those that ask for nothing, folded", async () => {
    await onBench(<Ladder />, {
      report: report({
        ladder: [rung(), rung({ key: "sag", label: "Sag", verdict: "no demand", ratio: null })],
      }),
    });
    expect(screen.getByText("1 target asks for nothing")).toBeVisible();
  });
});

describe("an opened rung", () => {
  it("shows that changes are being tried", async () => {
    await onBench(<Ladder />, { answers: { "/change": NEVER } });
    await open(/Speed it can reach/);
    expect(await screen.findByText("Trying each one…")).toBeVisible();
  });
  it("offers the best of each kind that help, and takes one", async () => {
    const session = await onBench(<Ladder />, {
      answers: {
        "/change": line([change("speed", 0.5, 0.9), change("speed", 0.5, 0.8), change("sag", 1, 2, "Other")]),
      },
    });
    await open(/Speed it can reach/);
    const offers = await screen.findAllByRole("button", { name: "Take it" });
    expect(offers).toHaveLength(1);
    await userEvent.click(offers[0]!);
    expect((session.get().design.chain[0] as { driver: { supply_v: number } }).driver.supply_v).toBe(24);
  });
  it("says that none helps", async () => {
    await onBench(<Ladder />, { answers: { "/change": line([change("sag", 1, 2)]) } });
    await open(/Speed it can reach/);
    expect(await screen.findByText("None of the usual steps improves this target.")).toBeVisible();
  });
  it("says that they could not be tried, and tries again on request", async () => {
    let answer: unknown = new Refused(503, { detail: "Too much at once." });
    await onBench(<Ladder />, { answers: { "/change": () => answer } });
    await open(/Speed it can reach/);
    expect(await screen.findByRole("alert")).toHaveTextContent(
      /Single changes cannot be shown.*Too much at once/,
    );
    answer = line([change("speed", 0.5, 0.9)]);
    await open(/Try again/);
    expect(await screen.findByRole("button", { name: "Take it" })).toBeVisible();
  });
});

describe("a design that cannot be worked out", () => {
  const problem = {
    field: "aim.speed_mm_s",
    message: "is too fast for its own good",
    value: "1",
    limit: "",
    unit: "",
    remedy: "Slow down.",
  };
  it("is said on the ladder and on the step, with the way there", async () => {
    await onBench(
      <>
        <Unworked />
        <Ladder />
        <Where />
      </>,
      { report: () => new Refused(422, { detail: "no", problems: [problem] }) },
    );
    expect(screen.getByRole("alert")).toHaveTextContent("Speed is too fast for its own good. Slow down.");
    expect(screen.getByText("cannot be worked out")).toBeVisible();
    await open(/Go to/);
    expect(screen.getByTestId("where")).toHaveTextContent("#aim.speed_mm_s");
  });
  it("leaves the last ladder, marked as of an earlier design", async () => {
    let answer: unknown = report();
    const session = await onBench(<Ladder />, { report: () => answer });
    answer = new Refused(422, { detail: "no", problems: [problem] });
    session.set("aim.speed_mm_s", 123);
    await screen.findByText(/Below is the last design that could be/);
    const row = screen.getByRole("button", { name: /Speed it can reach/ }).closest("[data-rung]");
    expect(row).toHaveAttribute("data-stale", "true");
  });
});

describe("saving", () => {
  it("says when it does not work, and tries again by hand", async () => {
    let answer: unknown = new Refused(503, { detail: "The disk is full." });
    const session = await onBench(<Saving />, { answers: { "/axes/abc": () => answer } });
    session.set("aim.speed_mm_s", 150);
    await session.saveNow();
    expect(await screen.findByRole("alert")).toHaveTextContent(/Not saved yet.*The disk is full/);
    answer = { version: 2, saved_at: "now" };
    await open(/Try now/);
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  });
});

describe("figures", () => {
  const q = (value: number | null) => ({
    key: "mass.total",
    label: "Moves in all",
    value,
    unit: "kg",
    missing: value === null ? ["mass of the arm"] : [],
  });
  const within_ = (value: number | null) => ({
    report: report({ results: [q(value)] as never }),
    answers: {
      "/open": [
        {
          equation: "m = Σ m_i",
          source_kind: "handbook",
          source: "mechanics",
          inputs: [{ name: "m_1", value: 2, unit: "kg", ref: "", source_kind: "estimate", source: "" }],
        },
      ],
    },
  });
  it("open to equation, inputs and source", async () => {
    await onBench(<Figure of="mass.total" />, within_(2));
    await open(/Moves in all 2 kg/);
    const dialog = await screen.findByRole("dialog", { name: "Moves in all" });
    expect(await within(dialog).findByText("m 1")).toBeVisible();
    expect(dialog).toHaveTextContent("m = Σ m_i");
    expect(dialog).toHaveTextContent("Source: handbook — mechanics");
  });
  it("say what they lack", async () => {
    await onBench(<Figure of="mass.total" />, within_(null));
    await open(/Moves in all unknown/);
    expect(await screen.findByText("Unknown: lacks mass of the arm")).toBeVisible();
  });
  it("say that their inputs cannot be fetched", async () => {
    await onBench(<Figure of="mass.total" />, {
      ...within_(2),
      answers: { "/open": new Refused(500, { detail: "A fault." }) },
    });
    await open(/Moves in all/);
    expect(await screen.findByRole("alert")).toHaveTextContent("A fault.");
  });
});

it("a verdict is a word too, for whoever sees no shape", async () => {
  await onBench(<VerdictMark verdict="tight" word={false} />);
  expect(screen.getByText("tight")).toBeInTheDocument();
});
