/** The editing session: undo and redo, saving, two windows, a program that stops, a tab that closes. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Axis, Design } from "../api/client";
import { Session } from "./session";

const design = (speed: number) => ({ name: "A", aim: { speed_mm_s: speed, travel_mm: 100 }, chain: [{ kind: "stepper" }], end: { kind: "carriage_loop" } }) as unknown as Design;
const axis = (speed = 100, version = 1): Axis => ({ id: "abc", machine_id: "m", machine: "M", version, saved_at: "now", design: design(speed), rides_on: null, may_ride_on: [] });

type Answer = { status: number; body: unknown } | "down";
let puts: { base_version: number; design: Design }[];
let save: () => Answer;
let evaluate: (d: Design) => Answer;
let evaluated: Design[];

function answer(a: Answer): Promise<Response> {
  if (a === "down") return Promise.reject(new TypeError("refused"));
  return Promise.resolve({ ok: a.status < 400, status: a.status, json: () => Promise.resolve(a.body) } as Response);
}

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  puts = [];
  evaluated = [];
  let version = 1;
  save = () => ({ status: 200, body: { version: ++version, saved_at: "later" } });
  evaluate = (d) => ({ status: 200, body: { name: d.name, results: [], ladder: [] } });
  vi.stubGlobal("fetch", (url: string, options: { method: string; body?: string }) => {
    if (url.startsWith("/api/evaluate")) {
      const asked = JSON.parse(options.body ?? "{}") as Design;
      evaluated.push(asked);
      return answer(evaluate(asked));
    }
    if (options.method === "PUT") {
      puts.push(JSON.parse(options.body ?? "{}") as (typeof puts)[number]);
      return answer(save());
    }
    return answer({ status: 200, body: axis(55, 7) });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const speed = (s: Session) => s.get().design.aim?.speed_mm_s;

describe("undo and redo", () => {
  it("goes back and forth through changes to different places", () => {
    const s = new Session(axis());
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
    const s = new Session(axis());
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
    const s = new Session(axis());
    s.set("aim.speed_mm_s", 200);
    s.undo();
    s.set("aim.travel_mm", 5);
    expect(s.get().canRedo).toBe(false);
  });

  it("does nothing for the value that is there already", () => {
    const s = new Session(axis());
    s.set("aim.speed_mm_s", 100);
    expect(s.get().canUndo).toBe(false);
  });

  it("never changes a design in place", () => {
    const first = axis();
    const s = new Session(first);
    s.set("aim.speed_mm_s", 200);
    expect(first.design.aim?.speed_mm_s).toBe(100);
  });
});

describe("saving", () => {
  it("saves by itself shortly after a change, once, on top of the version it knows", async () => {
    const s = new Session(axis());
    s.set("aim.speed_mm_s", 200);
    s.set("aim.speed_mm_s", 210);
    expect(s.get().save).toBe("waiting");
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.map((p) => [p.base_version, p.design.aim?.speed_mm_s])).toEqual([[1, 210]]);
    expect(s.get()).toMatchObject({ save: "saved", version: 2 });
    expect(localStorage.length).toBe(0);
  });

  it("keeps what is not saved in the browser, and a new tab finds it", async () => {
    const s = new Session(axis());
    s.set("aim.speed_mm_s", 333);
    const again = new Session(axis());
    expect(speed(again)).toBe(333);
    expect(again.get().canUndo).toBe(true);
    await vi.advanceTimersByTimeAsync(600);
    expect(puts.at(-1)?.design.aim?.speed_mm_s).toBe(333);
  });

  it("holds on while the program is down and saves when it answers again", async () => {
    const s = new Session(axis());
    const works = save;
    save = () => "down";
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get().save).toBe("unreachable");
    save = works;
    await vi.advanceTimersByTimeAsync(2000);
    expect(s.get().save).toBe("saved");
  });

  it("says so when another window was faster, and saves nothing until that is settled", async () => {
    const s = new Session(axis());
    save = () => ({ status: 409, body: { message: "other window", problems: [], current_version: 7 } });
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get().save).toBe("conflict");
    s.set("aim.speed_mm_s", 201);
    await vi.advanceTimersByTimeAsync(5000);
    expect(puts).toHaveLength(1);
    save = () => ({ status: 200, body: { version: 8, saved_at: "later" } });
    await s.settle(true);
    expect(puts.at(-1)).toMatchObject({ base_version: 7, design: { aim: { speed_mm_s: 201 } } });
    expect(s.get()).toMatchObject({ save: "saved", version: 8 });
  });

  it("can take the other window's design, and undo that", async () => {
    const s = new Session(axis());
    save = () => ({ status: 409, body: { message: "other window", problems: [], current_version: 7 } });
    s.set("aim.speed_mm_s", 200);
    await vi.advanceTimersByTimeAsync(600);
    await s.settle(false);
    expect(speed(s)).toBe(55);
    expect(s.get()).toMatchObject({ save: "saved", version: 7, canUndo: true });
    s.undo();
    expect(speed(s)).toBe(200);
  });

  it("shows a refusal with its field and keeps the design", async () => {
    const s = new Session(axis());
    const problem = { field: "aim.speed_mm_s", message: "is too fast", value: "9e9", limit: "20000", unit: "mm/s", remedy: "Slow down." };
    save = () => ({ status: 422, body: { message: "no", problems: [problem] } });
    s.set("aim.speed_mm_s", 9e9);
    await vi.advanceTimersByTimeAsync(600);
    expect(s.get().save).toBe("refused");
    expect(s.get().problems).toEqual([problem]);
    expect(speed(s)).toBe(9e9);
  });
});

describe("the report", () => {
  it("follows every change, and an answer to an older question is dropped", async () => {
    const s = new Session(axis());
    let slow: (r: Response) => void = () => undefined;
    const quick = fetch;
    vi.stubGlobal("fetch", (url: string, options: { method: string; body?: string }) => {
      if (url.startsWith("/api/evaluate") && JSON.parse(options.body ?? "{}").aim.speed_mm_s === 1) return new Promise<Response>((done) => (slow = done));
      return quick(url, options as RequestInit);
    });
    s.set("aim.speed_mm_s", 1);
    s.set("aim.travel_mm", 2);
    s.set("aim.speed_mm_s", 3);
    await vi.advanceTimersByTimeAsync(10);
    const good = s.get().report;
    slow({ ok: true, status: 200, json: () => Promise.resolve({ name: "old" }) } as Response);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get().report).toBe(good);
    expect(s.get().stale).toBe(false);
  });

  it("keeps the last report that could be worked out beside the problems of the new design", async () => {
    const s = new Session(axis());
    await vi.advanceTimersByTimeAsync(10);
    const before = s.get().report;
    evaluate = () => ({ status: 422, body: { message: "no", problems: [{ field: "guide.rail_mm", message: "is too short", value: "1", limit: "2", unit: "mm", remedy: "Longer." }] } });
    s.set("aim.travel_mm", 7);
    await vi.advanceTimersByTimeAsync(10);
    expect(s.get()).toMatchObject({ report: before, stale: true });
    expect(s.get().problems[0]?.field).toBe("guide.rail_mm");
  });
});
