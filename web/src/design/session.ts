/** One axis being edited: its design with undo and redo, its report as it follows every change, and saving that loses nothing. */
import {
  ask,
  askLines,
  Refusal,
  Unreachable,
  type Axis,
  type BeltPlan,
  type Design,
  type EditLine,
  type Problem,
  type Report,
  type Revision,
  type Scene,
} from "../api/client";
import { chosenAfter, leaves } from "./chosen";
import { Drafts, type Found } from "./drafts";
import { whole, type Schema } from "./fields";
import { getAt, setAt } from "./path";

/** An axis whose newest revision can be read. */
export type Opened = Axis & { design: Design };
/** `failing`: refused for now, tried again by itself. `refused`: the design itself is what the program does not take. */
export type SaveState = "saved" | "saving" | "waiting" | "failing" | "refused" | "conflict";

export interface View {
  id: string;
  machine: string;
  machineId: string;
  version: number;
  design: Design;
  report: Report | null;
  /** Drawings of the belts and of the end, of the design that the report belongs to. */
  drawings: Scene[] | null;
  /** What the Belt step settles, and of when; asked for while that step is open. */
  plan: BeltPlan | null;
  planAt: number;
  /** The plan belongs to an earlier design. */
  planStale: boolean;
  /** Why there is no plan of this design, in words. */
  planFailed: string;
  problems: Problem[];
  /** The report belongs to an earlier design: the newest one cannot be evaluated, or is still on its way. */
  stale: boolean;
  save: SaveState;
  /** Why nothing is saved just now, in words. */
  why: string;
  savedAt: string;
  canUndo: boolean;
  canRedo: boolean;
  /** Unsaved designs of windows that were closed or crashed, beside the one that was taken up. */
  found: Found[];
}

const SAVE_AFTER_MS = 500;
const RETRY_MS = 1500;
const SAME_FIELD_MS = 900;

/** A problem that stands in no field: the program's own words. */
const said = (message: string): Problem => ({
  field: "design",
  message,
  value: "",
  limit: "",
  unit: "",
  remedy: "",
});

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
  private later: ReturnType<typeof setTimeout> | undefined;
  private saved: Design;
  private saving = false;
  private drafts: Drafts;
  /** What the stored axis itself lacks: loads that ride on it and cannot be counted. */
  private standing: Problem[];
  /** Revisions below this one are where undo goes on when this window's own steps are used up. */
  private below: number;
  private fetching = false;
  /** How many ask for the plan of the belts. */
  private belts = 0;

  constructor(
    axis: Opened,
    private schema: Schema,
  ) {
    this.saved = axis.design;
    this.standing = axis.problems;
    this.below = axis.version;
    this.drafts = new Drafts(axis.id);
    this.view = {
      id: axis.id,
      machine: axis.machine,
      machineId: axis.machine_id,
      version: axis.version,
      design: axis.design,
      report: null,
      drawings: null,
      plan: null,
      planAt: 0,
      planStale: true,
      planFailed: "",
      problems: [],
      stale: true,
      save: "saved",
      why: "",
      savedAt: axis.saved_at,
      canUndo: axis.version > 1,
      canRedo: false,
      found: [],
    };
    void this.evaluate();
  }

  /** Looks for what an earlier window left unsaved, and listens for the moments at which saving may work again. */
  async open() {
    for (const moment of MOMENTS) window.addEventListener(moment, this.retry);
    const { mine, others } = await this.drafts.open();
    const unsaved = (d: Found) => JSON.stringify(d.design) !== JSON.stringify(this.saved);
    for (const d of others) if (!unsaved(d)) void this.drafts.forget(d);
    if (mine && !unsaved(mine)) this.drafts.drop();
    const first = mine && unsaved(mine) && this.past.length === 0 ? mine : null;
    const found = others.filter(unsaved);
    if (mine && unsaved(mine) && !first) found.unshift(mine);
    this.show({ found });
    if (first) this.takeUp(first, first.base !== this.view.version);
  }

  /** Ends this window's part: what is not saved stays in the browser, to be found by the next one. */
  async close() {
    for (const moment of MOMENTS) window.removeEventListener(moment, this.retry);
    clearTimeout(this.later);
    await this.saveNow();
    this.drafts.close();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  get = () => this.view;

  private show(change: Partial<View>) {
    this.view = { ...this.view, ...change, ...(change.stale ? { planStale: true } : {}) };
    this.listeners.forEach((l) => l());
  }

  /** Changes one place of the design, as a maker's choice. Further changes to the same place shortly after are one step of undo. */
  set(path: string, value: unknown) {
    if (getAt(this.view.design, path) !== value) this.setAll({ [path]: value }, path);
    else if (this.view.report?.assumed?.includes(path)) this.choose([path]); // typed again, it is meant
  }

  /** The values at these paths are right as they stand. */
  choose(paths: readonly string[]) {
    const known = this.view.design.chosen ?? [];
    if (paths.some((p) => !known.includes(p))) this.setAll({}, "", paths);
  }

  /** Changes several places as one step; all that is set counts as chosen, unless it is said what does. */
  setAll(
    changes: Record<string, unknown>,
    sameAs = "",
    chosen: readonly string[] = Object.entries(changes).flatMap(([path, value]) => leaves(path, value)),
  ) {
    const now = performance.now();
    const joined = sameAs !== "" && sameAs === this.lastPath && now - this.lastAt < SAME_FIELD_MS;
    if (!joined) this.past.push(this.view.design);
    this.lastPath = sameAs;
    this.lastAt = now;
    this.future = [];
    let design = this.view.design;
    for (const [path, value] of Object.entries(changes)) design = setAt(design, path, value);
    if (!("chosen" in changes))
      design = setAt(design, "chosen", chosenAfter(this.view.design.chosen ?? [], changes, chosen));
    this.replace(whole(this.schema, design));
  }

  undo = () => {
    if (this.past.length > 0) this.travel(this.past, this.future);
    else void this.further();
  };
  redo = () => this.travel(this.future, this.past);

  private travel(from: Design[], to: Design[]) {
    const design = from.pop();
    if (!design) return;
    to.push(this.view.design);
    this.lastPath = "";
    this.replace(design);
  }

  /** Undo beyond what this window did: the saved revisions, one after the other. */
  private async further() {
    if (this.fetching) return;
    this.fetching = true;
    try {
      while (this.below > 1) {
        const [earlier] = await ask<Revision[]>(
          `/axes/${this.view.id}/revisions?before=${this.below}&most=1`,
        );
        this.below = earlier?.number ?? 1;
        if (!earlier) break;
        const design = await ask<Design>(`/axes/${this.view.id}/revisions/${earlier.number}`).catch(
          (error: unknown) => {
            if (error instanceof Refusal) return null; // one that cannot be read: the one before it
            throw error;
          },
        );
        if (design && JSON.stringify(design) !== JSON.stringify(this.view.design)) {
          this.future.push(this.view.design);
          this.lastPath = "";
          this.replace(design);
          return;
        }
      }
      this.show(this.ways());
    } catch {
      // The program does not answer; saving says so.
    } finally {
      this.fetching = false;
    }
  }

  private ways = () => ({ canUndo: this.past.length > 0 || this.below > 1, canRedo: this.future.length > 0 });

  private replace(design: Design) {
    const save =
      this.view.save === "conflict" ? "conflict" : this.view.save === "failing" ? "failing" : "waiting";
    this.show({ design, stale: true, save, ...this.ways() });
    this.keep();
    void this.evaluate();
    if (save !== "conflict") this.saveSoon();
  }

  /** From now on the plan of the belts comes with every answer, until what this returns is called. */
  withBelts = () => {
    this.belts += 1;
    void this.evaluate();
    return () => void (this.belts -= 1);
  };

  /** Asks at once for everything that follows from the design; an answer to an older question is dropped. */
  private async evaluate() {
    const turn = ++this.asked;
    this.asking?.abort();
    if (this.standing.length > 0) {
      this.show({ report: null, problems: this.standing, stale: true });
      return;
    }
    this.asking = new AbortController();
    try {
      await askLines<EditLine>(
        `/edit?belt=${this.belts > 0}`,
        { body: this.view.design, signal: this.asking.signal },
        ({ report, drawings, plan }) => {
          if (turn !== this.asked) return;
          if (report) {
            this.show({ report, drawings: drawings ?? null, problems: [], stale: false });
            if (this.view.save === "failing") this.retry();
          }
          if (plan) this.show({ plan, planAt: Date.now(), planStale: false, planFailed: "" });
        },
      );
    } catch (error) {
      if (turn !== this.asked) return;
      if (error instanceof Refusal)
        this.show({ problems: error.problems.length ? error.problems : [said(error.message)], stale: true });
      else if (error instanceof Unreachable) {
        this.show({
          stale: true,
          ...(this.view.save === "saved" ? {} : { save: "failing" as const, why: error.message }),
        });
        clearTimeout(this.later);
        this.later = setTimeout(() => void this.evaluate(), RETRY_MS);
      } else this.show({ planFailed: error instanceof Error ? error.message : "" });
    }
  }

  /** The same in other words, or with another drawer. */
  again = () => this.evaluate();

  // ---- saving ----

  /** What has not reached the program yet is kept in the browser, so that a closed tab or a stopped program costs nothing. */
  private keep() {
    this.drafts.keep({ base: this.view.version, design: this.view.design });
  }

  /** Takes up a design that another window left unsaved, as a step that can be undone; told to, it goes on top of what stands here. */
  takeUp(found: Found, conflict = false) {
    this.past.push(this.view.design);
    this.lastPath = "";
    // In a conflict it stays based on the revision that it was made on, also after another reload.
    const version = conflict ? found.base : this.view.version;
    this.show({
      design: whole(this.schema, found.design),
      version,
      stale: true,
      save: conflict ? "conflict" : "waiting",
      why: "",
      ...this.ways(),
    });
    this.keep();
    this.leave(found);
    void this.evaluate();
    if (!conflict) this.saveSoon();
  }

  /** Strikes a found design off the list; where it is not this window's own, off the browser too. */
  leave(found: Found) {
    if (this.view.found.includes(found)) void this.drafts.forget(found);
    this.show({ found: this.view.found.filter((f) => f !== found) });
  }

  private saveSoon(after = SAVE_AFTER_MS) {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.saveNow(), after);
  }

  private retry = () => {
    if (this.view.save === "failing") void this.saveNow();
  };

  async saveNow(keepalive = false): Promise<void> {
    const { design, version, id } = this.view;
    if (this.saving || this.view.save === "conflict") return;
    clearTimeout(this.timer);
    if (design === this.saved) {
      if (this.view.save !== "saved") this.settled();
      return;
    }
    this.saving = true;
    if (this.view.save !== "failing") this.show({ save: "saving" });
    try {
      const answer = await ask<{ version: number; saved_at: string }>(`/axes/${id}`, {
        method: "PUT",
        body: { base_version: version, design },
        keepalive,
      });
      this.saved = design;
      this.show({ version: answer.version, savedAt: answer.saved_at });
      if (this.view.design === design) this.settled();
      else {
        this.show({ save: "waiting", why: "" });
        this.keep();
      }
    } catch (error) {
      this.notSaved(error);
    } finally {
      this.saving = false;
    }
    if (this.view.save === "waiting") this.saveSoon();
    if (this.view.stale && this.view.save === "saved" && this.view.problems.length === 0)
      void this.evaluate();
  }

  /** Everything that stands here is stored. */
  private settled() {
    this.show({ save: "saved", why: "" });
    this.drafts.drop();
  }

  /** Why a save did not go through; what may mend itself is tried again, the draft being safe. */
  private notSaved(error: unknown) {
    if (error instanceof Refusal && error.status === 409) {
      this.show({ save: "conflict", why: "" });
      return;
    }
    if (error instanceof Refusal && (error.status === 422 || error.status === 413)) {
      const [p] = error.problems;
      this.show({ save: "refused", why: p ? `${p.field} ${p.message}. ${p.remedy}` : error.message });
      return;
    }
    const off = error instanceof Refusal && error.status === 404;
    const words = error instanceof Error && error.message ? error.message : "The program did not take it.";
    this.show({
      save: "failing",
      why: off ? `${words} Put it back there, and your change is saved.` : words,
    });
    this.saveSoon(RETRY_MS);
  }

  /** After another window saved: keep this window's design as a new revision on top, or take the other one. */
  async settle(mine: boolean) {
    const axis = await ask<Axis>(`/axes/${this.view.id}`).catch(
      (error: unknown) => (this.show({ why: error instanceof Error ? error.message : "" }), null),
    );
    if (!axis) return;
    if (!mine && axis.design) {
      this.past.push(this.view.design);
      this.load(axis as Opened);
      return;
    }
    this.saved = axis.design ?? this.saved;
    this.show({ version: axis.version, save: "waiting", why: "" });
    this.keep();
    await this.saveNow();
  }

  /** Takes a design that the program has just stored. */
  load(axis: Opened) {
    this.saved = axis.design;
    this.standing = axis.problems;
    this.lastPath = "";
    this.drafts.drop();
    this.show({
      design: axis.design,
      version: axis.version,
      savedAt: axis.saved_at,
      save: "saved",
      why: "",
      stale: true,
      ...this.ways(),
    });
    void this.evaluate();
  }

  /** What rides where has changed: other loads, or none that hinders any more. */
  recount(axis: Axis) {
    this.standing = axis.problems;
    void this.evaluate();
  }

  async restore(number: number) {
    await this.saveNow();
    const before = this.view.design;
    const axis = await ask<Axis>(`/axes/${this.view.id}/restore`, {
      body: { base_version: this.view.version, number },
    });
    this.past.push(before);
    if (axis.design) this.load(axis as Opened);
  }
}

const MOMENTS = ["online", "focus", "visibilitychange"] as const;
