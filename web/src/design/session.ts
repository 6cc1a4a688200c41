/** One axis being edited: its design with undo and redo, its report as it follows every change, and saving that loses nothing. */
import { ask, Refusal, Unreachable, type Axis, type Design, type Problem, type Report } from "../api/client";
import { getAt, setAt } from "./path";

export type SaveState = "saved" | "saving" | "waiting" | "unreachable" | "conflict" | "refused";

export interface View {
  id: string;
  machine: string;
  version: number;
  design: Design;
  report: Report | null;
  problems: Problem[];
  /** The report belongs to an earlier design: the newest one cannot be evaluated, or is still on its way. */
  stale: boolean;
  save: SaveState;
  savedAt: string;
  canUndo: boolean;
  canRedo: boolean;
}

const SAVE_AFTER_MS = 500;
const RETRY_MS = 1500;
const SAME_FIELD_MS = 900;

interface Kept {
  base: number;
  design: Design;
}

export class Session {
  private view: View;
  private past: Design[] = [];
  private future: Design[] = [];
  private listeners = new Set<() => void>();
  private lastPath = "";
  private lastAt = 0;
  private asked = 0;
  private asking: AbortController | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private saved: Design;
  private saving = false;

  constructor(axis: Axis) {
    this.saved = axis.design;
    this.view = {
      id: axis.id, machine: axis.machine, version: axis.version, design: axis.design, report: null, problems: [], stale: false,
      save: "saved", savedAt: axis.saved_at, canUndo: false, canRedo: false,
    };
    const kept = this.kept();
    if (kept && JSON.stringify(kept.design) !== JSON.stringify(axis.design)) {
      // An earlier tab was closed, or the program stopped, before its last change was saved.
      this.past.push(axis.design);
      this.show({ design: kept.design, canUndo: true, save: kept.base === axis.version ? "waiting" : "conflict" });
      if (kept.base === axis.version) this.saveSoon();
    }
    void this.evaluate();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  get = () => this.view;

  private show(change: Partial<View>) {
    this.view = { ...this.view, ...change };
    this.listeners.forEach((l) => l());
  }

  /** Changes one place of the design. Further changes to the same place shortly after are one step of undo. */
  set(path: string, value: unknown) {
    if (getAt(this.view.design, path) === value) return;
    this.setAll({ [path]: value }, path);
  }

  setAll(changes: Record<string, unknown>, sameAs = "") {
    const now = performance.now();
    const joined = sameAs !== "" && sameAs === this.lastPath && now - this.lastAt < SAME_FIELD_MS;
    if (!joined) this.past.push(this.view.design);
    this.lastPath = sameAs;
    this.lastAt = now;
    this.future = [];
    let design = this.view.design;
    for (const [path, value] of Object.entries(changes)) design = setAt(design, path, value);
    this.replace(design);
  }

  undo = () => this.travel(this.past, this.future);
  redo = () => this.travel(this.future, this.past);

  private travel(from: Design[], to: Design[]) {
    const design = from.pop();
    if (!design) return;
    to.push(this.view.design);
    this.lastPath = "";
    this.replace(design);
  }

  private replace(design: Design) {
    const save = this.view.save === "conflict" ? "conflict" : "waiting";
    this.show({ design, stale: true, save, canUndo: this.past.length > 0, canRedo: this.future.length > 0 });
    this.keep();
    void this.evaluate();
    if (save === "waiting") this.saveSoon();
  }

  /** Asks for the report at once; an answer to an older question is dropped. */
  private async evaluate() {
    const turn = ++this.asked;
    this.asking?.abort();
    this.asking = new AbortController();
    try {
      const report = await ask<Report>("/evaluate?inputs=false", { body: this.view.design, signal: this.asking.signal });
      if (turn === this.asked) this.show({ report, problems: [], stale: false });
    } catch (error) {
      if (turn !== this.asked) return;
      if (error instanceof Refusal) this.show({ problems: error.problems, stale: true });
      else if (error instanceof Unreachable) this.show({ stale: true, save: this.view.save === "saved" ? "saved" : "unreachable" });
    }
  }

  // ---- saving ----

  private key = () => `crisp-cadence.unsaved.${this.view.id}`;

  /** What has not reached the program yet is kept in the browser, so that a closed tab or a stopped program costs nothing. */
  private keep() {
    try {
      localStorage.setItem(this.key(), JSON.stringify({ base: this.view.version, design: this.view.design } satisfies Kept));
    } catch {
      // Private windows may refuse storage; the save that follows still goes out.
    }
  }

  private kept(): Kept | null {
    try {
      return JSON.parse(localStorage.getItem(this.key()) ?? "null") as Kept | null;
    } catch {
      return null;
    }
  }

  private saveSoon(after = SAVE_AFTER_MS) {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.saveNow(), after);
  }

  async saveNow(keepalive = false): Promise<void> {
    const { design, version, id } = this.view;
    if (this.saving || design === this.saved || this.view.save === "conflict") return;
    clearTimeout(this.timer);
    this.saving = true;
    this.show({ save: "saving" });
    try {
      const answer = await ask<{ version: number; saved_at: string }>(`/axes/${id}`, { method: "PUT", body: { base_version: version, design }, keepalive });
      this.saved = design;
      const current = this.view.design === design;
      this.show({ version: answer.version, savedAt: answer.saved_at, save: current ? "saved" : "waiting" });
      if (current) localStorage.removeItem(this.key());
      else this.keep();
    } catch (error) {
      if (error instanceof Refusal) this.show({ save: error.status === 409 ? "conflict" : "refused", problems: error.problems });
      else {
        this.show({ save: "unreachable" });
        this.saveSoon(RETRY_MS);
      }
    } finally {
      this.saving = false;
    }
    if (this.view.save === "waiting") this.saveSoon();
    if (this.view.stale && this.view.save === "saved") void this.evaluate();
  }

  /** After another window saved: keep this window's design as a new revision on top, or take the other one. */
  async settle(mine: boolean) {
    const axis = await ask<Axis>(`/axes/${this.view.id}`);
    if (!mine) {
      localStorage.removeItem(this.key());
      this.past.push(this.view.design);
      this.load(axis);
      return;
    }
    this.show({ version: axis.version, save: "waiting" });
    this.keep();
    await this.saveNow();
  }

  /** Takes a design that the program has just stored. */
  load(axis: Axis) {
    this.saved = axis.design;
    this.lastPath = "";
    this.show({ design: axis.design, version: axis.version, savedAt: axis.saved_at, save: "saved", stale: true, canUndo: this.past.length > 0 });
    void this.evaluate();
  }

  async restore(number: number) {
    await this.saveNow();
    const before = this.view.design;
    const axis = await ask<Axis>(`/axes/${this.view.id}/restore`, { body: { base_version: this.view.version, number } });
    this.past.push(before);
    this.load(axis);
  }
}
