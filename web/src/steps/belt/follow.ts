/** A hand that drags: from millimetres moved to numbers of the design, and the newest question first. */
import { Refusal, type Problem, type Scene } from "../../api/client";

type Handle = Scene["wheels"][number]["handles"][number];

export interface Grid {
  /** Free places lie on multiples of this, in the design's own unit; 0 leaves them where they are. */
  step: number;
  /** How near, in the design's own unit, a number must come to fall into a good place. */
  reach: number;
}

export interface Moved {
  changes: Record<string, number>;
  says: string[];
}

/** What dragging by dx, dy does to the numbers behind a wheel: they fall into good places nearby, else onto the grid. */
export function moved(handles: readonly Handle[], dx: number, dy: number, grid: Grid): Moved {
  const out: Moved = { changes: {}, says: [] };
  for (const h of handles) {
    const raw = h.value + dx * h.dx + dy * h.dy;
    const untouched = Math.abs(dx * h.dx + dy * h.dy) < 1e-9;
    if (untouched) continue;
    const near = h.snaps
      .filter((s) => Math.abs(s.value - raw) <= grid.reach)
      .sort((a, b) => Math.abs(a.value - raw) - Math.abs(b.value - raw))[0];
    let value = grid.step > 0 ? Math.round(raw / grid.step) * grid.step : raw;
    if (near && grid.reach > 0) {
      value = near.value;
      out.says.push(near.says);
    }
    if (h.whole) value = Math.round(raw);
    out.changes[h.field] = Number(value.toFixed(6));
  }
  return out;
}

/** Asks one question at a time; while one is on its way only the newest of those that follow is kept. */
export class Newest<Q, A> {
  private busy = false;
  private next: { question: Q } | null = null;
  private hand = 0;

  constructor(
    private readonly answer: (question: Q) => Promise<A>,
    private readonly told: (answer: A | null, question: Q, problems: Problem[]) => void,
  ) {}

  /** The hand has let go: what is still on its way is told no more. */
  stop(): void {
    this.next = null;
    this.hand += 1;
  }

  async ask(question: Q): Promise<void> {
    if (this.busy) {
      this.next = { question };
      return;
    }
    this.busy = true;
    const hand = this.hand;
    const told: typeof this.told = (...what) => (hand === this.hand ? this.told(...what) : undefined);
    try {
      told(await this.answer(question), question, []);
    } catch (error) {
      told(
        null,
        question,
        error instanceof Refusal
          ? error.problems
          : [
              {
                field: "",
                message: "The program does not answer",
                value: "",
                limit: "",
                unit: "",
                remedy: "Your place is kept; try again in a moment.",
              },
            ],
      );
    }
    this.busy = false;
    const waiting = this.next;
    this.next = null;
    if (waiting) await this.ask(waiting.question);
  }
}
