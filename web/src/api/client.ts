/** Requests to the program, typed by its own description; every refusal becomes a Refusal. */
import type { Schema } from "../design/fields";
import { unanswered } from "./keys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type Design = Schemas["AxisDesign"];
export type Stepper = Schemas["Stepper"];
export type Gearbox = Schemas["Gearbox"];
export type Loop = Schemas["CarriageLoop"];
export type Report = Schemas["Report"];
export type Rung = Schemas["Rung"];
export type Quantity = Schemas["Quantity"];
export type Problem = Schemas["Problem"];
export type Axis = Schemas["AxisAnswer"];
export type ShelfMachine = Schemas["ShelfMachine"];
export type ShelfAxis = Schemas["ShelfAxis"];
export type Start = Omit<Schemas["StartAnswer"], "design_schema"> & { design_schema: Schema };
export type DrawerRow = Schemas["DrawerRow"];
export type LogEntry = Schemas["LogEntry"];
export type LogBody = Schemas["LogBody"];
export type Changes = Schemas["Changes"];
export type WaysAnswer = Schemas["WaysAnswer"];
export type Reaches = Schemas["Reaches"];
export type Plates = Schemas["Plates"];
export type Proposals = Schemas["Proposals"];
export type Formula = Schemas["Formula"];
export type Revision = Schemas["Revision"];
export type Heard = Schemas["Heard"];
export type Ripple = Schemas["Ripple"];
export type Tension = Schemas["TensionAnswer"];
export type Reading =
  Schemas["PluckReading"] | Schemas["PushReading"] | Schemas["ThumbReading"] | Schemas["ScaleReading"];
export type WheelsReading = Schemas["WheelsReading"];
export type Calibrated = Schemas["Calibrated"];
export type ToMeasure = Schemas["Bench"];
export type BeltToRead = Schemas["BeltToRead"];
export type Trial = Schemas["Trial"];
export type TrialAnswer = Schemas["TrialAnswer"];
export type Move = Schemas["Move"];
export type Scale = Schemas["Scale"];
export type Lesson = Schemas["Lesson"];
export type Squaring = Schemas["Squaring"];
export type Squared = Schemas["Squared"];
export type MovesAnswer = Schemas["MovesAnswer"];
export type Wanted = Schemas["Wanted"];
export type Scene = Schemas["Scene"];
export type BeltPlan = Schemas["BeltPlan"];
export type EditLine = Schemas["EditLine"];
export type BeltRow = Schemas["BeltRow"];
export type ClosedPlan = Schemas["ClosedPlan"];
export type LineRow = Schemas["LineRow"];
export type OutAnswer = Schemas["OutAnswer"];
export type SearchAnswer = Schemas["SearchAnswer"];
export type SearchOptions = Schemas["Options"];
export type Why = Schemas["Why"];
export type DrawerPreview = Schemas["Preview"];
export type WhichBelt = Schemas["WhichBelt"];
export type UnknownMotor = Schemas["UnknownMotor"];
export type LayoutRow = Schemas["LayoutRow"];
export type ShelfVerdict = ShelfAxis["verdict"];
export type Verdict = Rung["verdict"] | ShelfVerdict;
export type StoreState = Schemas["StoreAnswer"];
export type Rescued = Schemas["Rescued"];
export type Off = Schemas["Off"];
export type Intake = Schemas["Intake"];
export type Turned = Schemas["Turned"];
export type Thinned = Schemas["Thinned"];
export type Taken = Schemas["Taken"];
export type MachineAnswer = Schemas["MachineAnswer"];
export type InMachine = Schemas["InMachine"];
export type MachinePlan = Schemas["MachinePlan-Output"];
export type Purchase = Schemas["Purchase-Output"];
export type OwnStep = Schemas["OwnStep"];

export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: Problem[] = [],
    readonly currentVersion: number | null = null,
  ) {
    super(message);
  }
}

/** No answer at all: the program is not running. */
export class Unreachable extends Error {}

interface Question {
  body?: unknown;
  text?: string;
  signal?: AbortSignal;
}
interface Deed extends Question {
  method?: "POST" | "PUT" | "DELETE";
  keepalive?: boolean;
  /** It says what it stands on, and repeated it changes nothing: it needs no key. */
  repeatable?: boolean;
}
interface Options extends Deed {
  key?: string;
}

/** Where these pages stand: the demo's, with a data file of their own, under an address of their own. */
export const BASE = /^\/demo(\/|$)/.test(window.location.pathname) ? "/demo" : "";

/** Sentences come from the program whole: it is told in which units they shall speak. */
const spoken = (): Record<string, string> =>
  localStorage.getItem("crisp-cadence.units") === '"imperial"' ? { "accept-units": "imperial" } : {};

async function send(path: string, options: Options): Promise<Response> {
  const content = options.text ?? (options.body === undefined ? undefined : JSON.stringify(options.body));
  let answer: Response;
  try {
    answer = await fetch(`${BASE}/api${path}`, {
      method: options.method ?? (content === undefined ? "GET" : "POST"),
      body: content,
      headers: {
        ...spoken(),
        ...(content === undefined ? {} : { "content-type": "application/json" }),
        ...(options.key ? { "act-key": options.key } : {}),
      },
      signal: options.signal,
      keepalive: options.keepalive,
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Unreachable("The program does not answer.");
  }
  if (answer.ok) return answer;
  const refused = (await answer.json().catch(() => null)) as Partial<Schemas["ErrorAnswer"]> | null;
  throw new Refusal(
    answer.status,
    refused?.detail ?? `The program answered ${answer.status}.`,
    refused?.problems ?? [],
    refused?.current_version ?? null,
  );
}

const read = async <T>(answer: Response) =>
  (answer.status === 204 ? undefined : await answer.json().catch(() => null)) as T;

/** A question: what it asks for may be asked again, and changes nothing. */
export const ask = async <T>(path: string, question: Question = {}) => read<T>(await send(path, question));

/** Something that is done, once however often it is asked for: until an answer has come, the same again carries the same key
 * (see keys.ts), and the program answers it as it did the first time.
 */
export async function act<T>(path: string, deed: Deed = {}): Promise<T> {
  const method = deed.method ?? "POST";
  if (deed.repeatable) return read<T>(await send(path, { ...deed, method }));
  const whole = deed.text ?? (deed.body === undefined ? "" : JSON.stringify(deed.body));
  const key = unanswered.begin(`${method} ${BASE}${path} ${whole}`);
  try {
    const done = await read<T>(await send(path, { ...deed, method, key: key.value }));
    key.answered();
    return done;
  } catch (error) {
    if (error instanceof Refusal) key.answered();
    throw error;
  }
}

/** An answer that comes line by line, each of them JSON. */
export async function askLines<T>(path: string, options: Question, each: (line: T) => void): Promise<void> {
  const reader = (await send(path, options)).body!.pipeThrough(new TextDecoderStream()).getReader();
  const next = () =>
    reader.read().catch((error: unknown) => {
      if (error instanceof DOMException && error.name === "AbortError") throw error;
      throw new Unreachable("The program stopped in the middle of its answer.");
    });
  let rest = "";
  for (let piece = await next(); !piece.done; piece = await next()) {
    const lines = (rest + piece.value).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      const read = JSON.parse(line) as T & { failed?: string | null };
      if (read.failed) throw new Error(read.failed); // work that broke off: its status had gone out long before
      each(read);
    }
  }
}
