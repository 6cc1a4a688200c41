/** The editing session: undo and redo, saving, two windows, a program that stops, a tab that closes. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Axis, Design } from "../api/client";
import type { Schema } from "./fields";
import { Session, type Opened } from "./session";

const design = (speed: number) =>
  ({
    name: "A",
    aim: { speed_mm_s: speed, travel_mm: 100 },
    chain: [{ kind: "stepper" }],
    end: { kind: "carriage_loop" },
  }) as unknown as Design;
const axis = (speed = 100, version = 1): Opened => ({
  id: "abc",
  name: "A",
  machine_id: "m",
  machine: "M",
  version,
  saved_at: "now",
  design: design(speed),
  problems: [],
  rides_on: null,
  may_ride_on: [],
});
const schema: Schema = { $defs: {}, properties: { note: { type: "string", default: "" } } };
const windows: Session[] = [];

/** A window that opens the axis; it lives until it is closed or crashes. */
async function opened(a: Axis & Opened = axis()): Promise<Session> {
  const s = new Session(a, schema);
  windows.push(s);
  await s.open();
  return s;
}

/** The browser's locks: a name is held until its holder lets go, or its window ends. */
const held = new Map<string, () => void>();
const locks = {
  query: () => Promise.resolve({ held: [...held.keys()].map((name) => ({ name })) }),
  request: async (name: string, _: unknown, work: (lock: object | null) => Promise<void> | undefined) => {
    if (held.has(name)) return void (await work(null));
    held.set(name, () => held.delete(name));
    await work({ name });
    held.delete(name);
  },
};
/** A window ends without a word: its locks are free, what it kept stays. */
const crash = () => held.clear();

type Answer = { status: number; body: unknown } | "down";
let puts: { base_version: number; design: Design }[];
let save: () => Answer;
let evaluate: (d: Design) => Answer;
let evaluated: Design[];
let plans: unknown[];
let revisions: (n: number) => Answer;
let kept: (n: number) => boolean;

function answer(a: Answer): Promise<Response> {
  if (a === "down") return Promise.reject(new TypeError("refused"));
  return Promise.resolve(new Response(`${JSON.stringify(a.body)}\n`, { status: a.status }));
}

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  held.clear();
  vi.stubGlobal("navigator", { locks });
  puts = [];
  evaluated = [];
  plans = [{ plan: { packing_says: "nothing to cut" } }];
  let version = 1;
  save = () => ({ status: 200, body: { version: ++version, saved_at: "later" } });
  revisions = (n) => ({ status: 200, body: design(1000 + n) });
  kept = () => true;
  evaluate = (d) => ({ status: 200, body: { name: d.name, results: [], ladder: [] } });
  vi.stubGlobal("fetch", (url: string, options: { method: string; body?: string }) => {
    if (url.startsWith("/api/edit")) {
      const asked = JSON.parse(options.body ?? "{}") as Design;
      evaluated.push(asked);
      const made = evaluate(asked);
      if (made === "down" || made.status >= 400) return answer(made);
      const lines: unknown[] = [
        { report: made.body, drawings: [] },
        ...(url.endsWith("belt=true") ? plans : []),
      ];
      return Promise.resolve(new Response(lines.map((l) => `${JSON.stringify(l)}\n`).join("")));
    }
    if (options.method === "PUT") {
      puts.push(JSON.parse(options.body ?? "{}") as (typeof puts)[number]);
      return answer(save());
    }
    if (url.includes("/revisions?")) {
      const before = Number(/before=(\d+)/.exec(url)![1]);
      const there = [...Array(before).keys()].reverse().filter((n) => n > 0 && kept(n));
      return answer({
        status: 200,
        body: there.slice(0, 1).map((number) => ({ number, at: "then", why: "" })),
      });
    }
    if (url.includes("/revisions/")) return answer(revisions(Number(url.split("/").at(-1))));
    return answer({ status: 200, body: axis(55, 7) });
  });
});
afterEach(async () => {
  save = () => ({ status: 200, body: { version: 99, saved_at: "end" } });
  for (const w of windows.splice(0)) await w.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const speed = (s: Session) => s.get().design.aim?.speed_mm_s;

describe("undo and redo", () => {
  it("goes back and forth through changes to different places", () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 200);
    s.set("aim.travel_mm", 300);
    s.undo();
    expect(s.get().design.aim?.travel_mm).toBe(100);
    expect(speed(s)).toBe(200);
    s.undo();
    expect(speed(s)).toBe(100);
    expect(s.get().canUndo).toBe(false);
    s.redo();
    expect(speed(s)).toBe(200);
    expect(s.get().canRedo).toBe(true);
  });

  it("takes digits typed in one go as one step, and a pause as a new one", () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 1);
    s.set("aim.speed_mm_s", 15);
    vi.advanceTimersByTime(2000);
    s.set("aim.speed_mm_s", 150);
    s.undo();
    expect(speed(s)).toBe(15);
    s.undo();
    expect(speed(s)).toBe(100);
  });

  it("forgets what was undone when something else is changed", () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 200);
    s.undo();
    s.set("aim.travel_mm", 5);
    expect(s.get().canRedo).toBe(false);
  });

  it("does nothing for the value that is there already", () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 100);
    expect(s.get().canUndo).toBe(false);
  });

  it("never changes a design in place", () => {
    const first = axis();
    const s = new Session(first, schema);
    s.set("aim.speed_mm_s", 200);
    expect(first.design.aim?.speed_mm_s).toBe(100);
  });
});

describe("saving", () => {
  it("saves by itself shortly after a change, once, on top of the version it knows", async () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 200);
    s.set("aim.speed_mm_s", 210);
    expect(s.get().save).toBe("waiting");
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.map((p) => [p.base_version, p.design.aim?.speed_mm_s])).toEqual([[1, 210]]);
    expect(s.get()).toMatchObject({ save: "saved", version: 2 });
    expect(localStorage.length).toBe(0);
  });

  it("keeps what is not saved in the browser, and the next window finds it after a crash", async () => {
    const s = await opened();
    s.set("aim.speed_mm_s", 333);
    crash();
    const again = await opened();
    expect(speed(again)).toBe(333);
    expect(again.get().canUndo).toBe(true);
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.at(-1)?.design.aim?.speed_mm_s).toBe(333);
    expect(localStorage.length).toBe(0);
  });

  it("leaves alone what a window that lives has not saved yet", async () => {
    const s = await opened();
    save = () => "down";
    s.set("aim.speed_mm_s", 333);
    const other = await opened();
    expect(speed(other)).toBe(100);
    expect(other.get().found).toEqual([]);
    expect(localStorage.length).toBe(1);
  });

  it("keeps one key a window: what another saves does not remove a draft kept during a conflict", async () => {
    const a = await opened();
    const b = await opened();
    a.set("aim.speed_mm_s", 111);
    await vi.advanceTimersByTimeAsync(600);
    const works = save;
    save = () => ({ status: 409, body: { detail: "other window", problems: [], current_version: 2 } });
    b.set("aim.speed_mm_s", 222);
    await vi.advanceTimersByTimeAsync(600);
    expect(b.get().save).toBe("conflict");
    save = works;
    a.set("aim.speed_mm_s", 112);
    await vi.advanceTimersByTimeAsync(600);
    expect(a.get().save).toBe("saved");
    crash();
    const again = await opened(axis(112, 3));
    expect(speed(again)).toBe(222);
    expect(again.get().save).toBe("conflict");
    crash();
    const later = await opened(axis(112, 3));
    expect(later.get().save, "still two versions after another reload").toBe("conflict");
    later.pick(["aim.speed_mm_s"], true);
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.at(-1)).toMatchObject({ base_version: 7, design: { aim: { speed_mm_s: 222 } } });
  });

  it("offers the drafts of further windows that are gone, and drops them only when told", async () => {
    const [a, b] = [await opened(), await opened()];
    save = () => "down";
    a.set("aim.speed_mm_s", 111);
    vi.advanceTimersByTime(10);
    b.set("aim.speed_mm_s", 222);
    crash();
    const next = await opened();
    expect(speed(next)).toBe(222);
    expect(next.get().found.map((f) => f.design.aim?.speed_mm_s)).toEqual([111]);
    next.takeUp(next.get().found[0]!);
    expect(speed(next)).toBe(111);
    next.undo();
    expect(speed(next)).toBe(222);
    await vi.advanceTimersByTimeAsync(1);
    expect(localStorage.length, "one draft of its own").toBe(1);
  });

  it("finds the draft that an earlier version of this page kept", async () => {
    localStorage.setItem("crisp-cadence.unsaved.abc", JSON.stringify({ base: 1, design: design(77) }));
    expect(speed(await opened())).toBe(77);
  });

  it("takes nothing over by itself where the browser has no locks, but offers it", async () => {
    const s = await opened();
    save = () => "down";
    s.set("aim.speed_mm_s", 333);
    vi.stubGlobal("navigator", {});
    const next = await opened();
    expect(speed(next)).toBe(100);
    expect(next.get().found).toHaveLength(1);
  });

  it.each([
    ["down" as const, "The program does not answer."],
    [
      { status: 503, body: { detail: "The disk is full.", problems: [], cause: "full" } },
      "The disk is full.",
    ],
    [{ status: 500, body: null }, "The program answered 500."],
    [
      { status: 404, body: { detail: "This axis is not on the shelf.", problems: [] } },
      "This axis is not on the shelf. Put it back there, and your change is saved.",
    ],
  ])(
    "says why it could not save (%#), keeps the draft, and saves by itself once it works",
    async (failure, words) => {
      const s = await opened();
      const works = save;
      save = () => failure;
      s.set("aim.speed_mm_s", 200);
      await vi.advanceTimersByTimeAsync(600);
      expect(s.get()).toMatchObject({ save: "failing", why: words });
      expect(localStorage.length).toBe(1);
      await vi.advanceTimersByTimeAsync(4000);
      expect(s.get().save).toBe("failing");
      expect(puts.length).toBeGreaterThan(2);
      save = works;
      window.dispatchEvent(new Event("online"));
      await vi.advanceTimersByTimeAsync(1);
      expect(s.get(), "at once, not at the next turn").toMatchObject({ save: "saved", why: "" });
      expect(localStorage.length).toBe(0);
    },
  );

  it("goes on with undo and redo across a save that failed and a conflict that was settled", async () => {
    const s = await opened();
    save = () => "down";
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    s.set("aim.travel_mm", 300);
    s.undo();
    expect(s.get()).toMatchObject({ canUndo: true, canRedo: true });
    s.redo();
    expect(s.get().design.aim?.travel_mm).toBe(300);
    save = () => ({ status: 409, body: { detail: "other window", problems: [], current_version: 7 } });
    await vi.advanceTimersByTimeAsync(2000);
    expect(s.get().save).toBe("conflict");
    s.undo();
    s.undo();
    expect(speed(s)).toBe(100);
    s.redo();
    save = () => ({ status: 200, body: { version: 8, saved_at: "later" } });
    s.pick(
      s.get().clashes.map((c) => c.ref),
      true,
    );
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get()).toMatchObject({ save: "saved", canUndo: true, canRedo: true });
    s.redo();
    expect(s.get().design.aim?.travel_mm).toBe(300);
  });

  it("goes on with the saved revisions after a reload, past one that cannot be read", async () => {
    const s = await opened(axis(100, 4));
    expect(s.get().canUndo).toBe(true);
    revisions = (n) =>
      n === 2
        ? { status: 422, body: { detail: "cannot be read", problems: [] } }
        : { status: 200, body: design(1000 + n) };
    s.undo();
    await vi.advanceTimersByTimeAsync(1);
    expect(speed(s)).toBe(1003);
    s.undo();
    await vi.advanceTimersByTimeAsync(1);
    expect(speed(s)).toBe(1001);
    expect(s.get().canUndo).toBe(false);
    s.redo();
    s.redo();
    expect(speed(s)).toBe(100);
    s.undo();
    expect(speed(s), "its own steps come first").toBe(1003);
  });

  it("steps over revisions that were thinned out", async () => {
    const s = await opened(axis(100, 400));
    kept = (n) => n < 3;
    s.undo();
    await vi.advanceTimersByTimeAsync(1);
    expect(speed(s)).toBe(1002);
    s.undo();
    await vi.advanceTimersByTimeAsync(1);
    expect(speed(s)).toBe(1001);
    expect(s.get().canUndo).toBe(false);
  });

  it("stores the whole of what is set", async () => {
    const s = new Session(axis(), schema);
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    expect(puts[0]?.design.note).toBe("");
  });

  it("says so when another window was faster, and saves nothing until that is settled", async () => {
    const s = new Session(axis(), schema);
    save = () => ({ status: 409, body: { detail: "other window", problems: [], current_version: 7 } });
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get().save).toBe("conflict");
    s.set("aim.speed_mm_s", 201);
    await vi.advanceTimersByTimeAsync(5000);
    expect(puts).toHaveLength(1);
    save = () => ({ status: 200, body: { version: 8, saved_at: "later" } });
    s.pick(
      s.get().clashes.map((c) => c.ref),
      true,
    );
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.at(-1)).toMatchObject({ base_version: 7, design: { aim: { speed_mm_s: 201 } } });
    expect(s.get()).toMatchObject({ save: "saved", version: 8 });
  });

  it("can take the other window's design, and undo that", async () => {
    const s = new Session(axis(), schema);
    save = () => ({ status: 409, body: { detail: "other window", problems: [], current_version: 7 } });
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    save = () => ({ status: 200, body: { version: 8, saved_at: "later" } });
    s.pick(["aim.speed_mm_s"], false);
    await vi.advanceTimersByTimeAsync(600);
    expect(speed(s)).toBe(55);
    expect(s.get()).toMatchObject({ save: "saved", version: 8, canUndo: true });
    s.undo();
    expect(speed(s)).toBe(200);
  });

  it("shows a refusal with its field and keeps the design", async () => {
    const s = new Session(axis(), schema);
    const problem = {
      field: "aim.speed_mm_s",
      message: "is too fast",
      value: "9e9",
      limit: "20000",
      unit: "mm/s",
      remedy: "Slow down.",
    };
    save = () => ({ status: 422, body: { detail: "no", problems: [problem] } });
    s.set("aim.speed_mm_s", 9e9);
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get()).toMatchObject({ save: "refused", why: "aim.speed_mm_s is too fast. Slow down." });
    expect(speed(s)).toBe(9e9);
  });
});

describe("the report", () => {
  it("follows every change, and an answer to an older question is dropped", async () => {
    const s = new Session(axis(), schema);
    let slow: (r: Response) => void = () => undefined;
    const quick = fetch;
    vi.stubGlobal("fetch", (url: string, options: { method: string; body?: string }) => {
      if (url.startsWith("/api/edit") && JSON.parse(options.body ?? "{}").aim.speed_mm_s === 1)
        return new Promise<Response>((done) => (slow = done));
      return quick(url, options as RequestInit);
    });
    s.set("aim.speed_mm_s", 1);
    s.set("aim.travel_mm", 2);
    s.set("aim.speed_mm_s", 3);
    await vi.advanceTimersByTimeAsync(10);
    const good = s.get().report;
    slow(new Response(`${JSON.stringify({ report: { name: "old" } })}\n`));
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get().report).toBe(good);
    expect(s.get().stale).toBe(false);
  });

  it("keeps the last report that could be worked out beside the problems of the new design", async () => {
    const s = new Session(axis(), schema);
    await vi.advanceTimersByTimeAsync(10);
    const before = s.get().report;
    evaluate = () => ({
      status: 422,
      body: {
        detail: "no",
        problems: [
          {
            field: "guide.rail_mm",
            message: "is too short",
            value: "1",
            limit: "2",
            unit: "mm",
            remedy: "Longer.",
          },
        ],
      },
    });
    s.set("aim.travel_mm", 7);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ report: before, stale: true });
    expect(s.get().problems[0]?.field).toBe("guide.rail_mm");
  });

  it("brings the plan of the belts while somebody asks for it, in the same answer", async () => {
    const s = new Session(axis(), schema);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get().plan).toBeNull();
    const over = s.withBelts();
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ plan: { packing_says: "nothing to cut" }, planStale: false });
    const asked = evaluated.length;
    s.set("aim.travel_mm", 7);
    expect(s.get().planStale).toBe(true);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get().planStale).toBe(false);
    expect(evaluated.length).toBe(asked + 1);
    over();
    s.set("aim.travel_mm", 8);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ stale: false, planStale: true });
  });

  it("stays where only the plan fails, and says why", async () => {
    plans = [{ failed: "The cellar is flooded." }];
    const s = new Session(axis(), schema);
    s.withBelts();
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ stale: false, problems: [], planFailed: "The cellar is flooded." });
    plans = [{ plan: { packing_says: "dry again" } }];
    await s.again();
    expect(s.get()).toMatchObject({ plan: { packing_says: "dry again" }, planFailed: "" });
  });

  it("says that it cannot be worked out in the program's words, where there is no field", async () => {
    const s = new Session(axis(), schema);
    evaluate = () => ({ status: 500, body: null });
    s.set("aim.travel_mm", 7);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get().problems[0]?.message).toBe("The program answered 500.");
  });

  it("works nothing out while loads that ride on the axis are not known, and does once they are", async () => {
    const problem = { field: "riding", message: "is not known", value: "", limit: "", unit: "", remedy: "" };
    const s = new Session({ ...axis(), problems: [problem] }, schema);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ report: null, problems: [problem], stale: true });
    expect(evaluated).toEqual([]);
    s.recount(axis());
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ problems: [], stale: false });
  });
});
