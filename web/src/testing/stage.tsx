/** Shows a piece of the page as it stands within the whole: theme, cache, addresses, and for an axis its session. */
import { readFileSync } from "node:fs";
import { render } from "@testing-library/react";
import { MantineProvider } from "@mantine/core";
import { Notifications } from "@mantine/notifications";
import { QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import type { Design, Quantity, Report, Rung, Start } from "../api/client";
import { client } from "../api/queries";
import { BenchProvider } from "../design/context";
import { whole, type Schema } from "../design/fields";
import { Session, type Opened } from "../design/session";
import { theme } from "../theme";

/** The design's own description, as the core publishes it. */
export const schema = JSON.parse(readFileSync("../docs/axis.schema.json", "utf-8")) as Schema;

const unit = (base: string, factors: Record<string, number>, imperial = base) => ({
  base,
  factors: { [base]: 1, ...factors },
  metric: base,
  imperial,
  pairs: {},
});

export const start = {
  version: "0",
  units: {
    length: unit("mm", { in: 25.4, m: 1000 }, "in"),
    speed: unit("mm/s", { "in/s": 25.4, "mm/min": 1 / 60 }, "in/s"),
    acceleration: unit("mm/s²", { "in/s²": 25.4 }, "in/s²"),
    force: unit("N", { lbf: 4.4482216152605 }, "lbf"),
    mass: unit("kg", { g: 1e-3, lb: 0.45359237 }, "lb"),
    torque: unit("N·m", { "oz·in": 0.00706155 }, "oz·in"),
    voltage: unit("V", { mV: 1e-3 }),
    current: unit("A", { mA: 1e-3 }),
    angle: unit("°", {}),
    money: unit("", {}),
    count: unit("", {}),
    number: unit("", {}),
  },
  profiles: [{ key: "round-g-2", name: "Round tooth G 2 mm", pitch_mm: 2, widths_mm: [6, 9, 10, 15] }],
  design_schema: schema,
  forms: [],
  cut: "cut",
  frames: { "NEMA 17": 42.3 },
  log_kinds: ["note", "repair"],
  drawer: {
    kinds: { stepper: "Stepper motors" },
    data: { hold_torque_nm: { says: "hold", unit: "N·m" }, rated_current_a: { says: "rated", unit: "A" } },
  },
  takes: { Stepper: "stepper" },
} as unknown as Start;

export const design = (more: object = {}) =>
  whole(schema, {
    name: "Slide",
    aim: {},
    guide: {},
    stand: {},
    sides: {},
    moving: [{ label: "Carriage" }],
    chain: [{ kind: "stepper", driver: {} }],
    end: { kind: "carriage_loop" },
    assumptions: {},
    ...more,
  } as unknown as Design);

export const rung = (more: Partial<Rung> = {}): Rung =>
  ({
    key: "speed",
    label: "Speed it can reach",
    verdict: "holds",
    ratio: 1.5,
    headroom: 0.5,
    margin: 1.1,
    demand: 200,
    capacity: 300,
    unit: "mm/s",
    field: "aim.speed_mm_s",
    step: "aim",
    section: "",
    says: "Slower, or more volts.",
    opens: [],
    missing: [],
    lower_is_better: false,
    advisory: false,
    met: false,
    case: "",
    ...more,
  }) as unknown as Rung;

export const report = (more: Partial<Report> = {}): Report =>
  ({
    name: "Slide",
    verdict: "holds",
    in_words: "holds; least headroom in speed",
    ladder: [rung()],
    results: [] as Quantity[],
    assumed: [],
    notes: [],
    cautions: [],
    guided: true,
    ...more,
  }) as unknown as Report;

type Answer = unknown | ((body: unknown) => unknown);
export class Refused {
  constructor(
    readonly status: number,
    readonly body: object = { detail: `Refused with ${status}` },
  ) {}
}
/** For a request that nobody answers. */
export const DOWN = Symbol("down");
/** For a request whose answer never comes. */
export const NEVER = Symbol("never");

export const asked: { path: string; method: string; body: unknown }[] = [];

/** Answers requests by the end of their path; the rest are refused, so that none goes unnoticed. */
export function answering(answers: Record<string, Answer>) {
  asked.length = 0;
  client.clear();
  vi.stubGlobal("fetch", async (url: string, options: RequestInit = {}) => {
    const path = url.replace(/^\/api/, "").replace(/\?.*$/, "");
    const body: unknown = typeof options.body === "string" ? safe(options.body) : undefined;
    asked.push({ path, method: options.method ?? "GET", body });
    const key = Object.keys(answers).find((k) => path.endsWith(k));
    let answer = key === undefined ? new Refused(404, { detail: `nothing at ${path}` }) : answers[key];
    if (typeof answer === "function") answer = await (answer as (b: unknown) => unknown)(body);
    if (answer === DOWN) throw new TypeError("refused");
    if (answer === NEVER) return new Promise<Response>(() => undefined);
    if (answer instanceof Refused)
      return new Response(JSON.stringify({ problems: [], ...answer.body }), { status: answer.status });
    return new Response(`${JSON.stringify(answer)}\n`, { status: 200 });
  });
}

function safe(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

/** Shows it, with nothing of an axis around it. */
export function shown(piece: ReactNode, at = "/") {
  return render(
    <MantineProvider theme={theme} env="test">
      <Notifications />
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[at]}>{piece}</MemoryRouter>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

/** Shows it within an axis: a design, and the report that the program gives for it. */
export async function onBench(
  piece: ReactNode,
  { of = design(), report: made = report(), answers = {} }: Partial<Stage> = {},
) {
  answering({
    "/edit": (body: unknown) => {
      const answer = typeof made === "function" ? made(body) : made;
      return answer instanceof Refused ? answer : { report: answer, drawings: [] };
    },
    "/axes/abc": { version: 2, saved_at: "now" },
    ...answers,
  });
  const session = new Session(
    { id: "abc", machine: "M", version: 1, saved_at: "now", design: of, problems: [] } as unknown as Opened,
    schema,
  );
  await vi.waitFor(() => {
    const view = session.get();
    if (view.stale && view.problems.length === 0) throw new Error("not evaluated yet");
  });
  shown(
    <BenchProvider session={session} start={start}>
      {piece}
    </BenchProvider>,
    "/axis/abc/aim",
  );
  return session;
}
interface Stage {
  of: Design;
  report: Report | ((body: unknown) => unknown);
  answers: Record<string, Answer>;
}
