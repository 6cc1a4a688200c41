/** One axis being edited: its design with undo and redo, its report as it follows every change, and saving that loses nothing. */
import {
  act,
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
import { rowsHaveIds, whole, type Schema } from "./fields";
import { differing, laidDesigns, MINE, same, type Clash } from "./merge";
import { getAt, setAt } from "./path";
import { followed, keyed } from "./rows";

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
  /** What both this window and another have set, each to something else. */
  clashes: Clash[];
  /** What another window has set that was laid beneath what is set here, by reference; to be told once. */
  laid: string[];
  /** Whether what is not saved is kept in this browser. */
  kept: boolean;
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
  /** The design as it is stored in revision `savedAt`. */
  private saved: Design;
  private savedAt: number;
  /** Where another window was faster: what both began from (nothing where that is gone), and what it has saved. */
  private other: { base: Design; axis: Opened } | null = null;
  private picks = new Map<string, boolean>();
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
    this.savedAt = axis.version;
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
      clashes: [],
      laid: [],
      kept: true,
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
    const before = this.view.design;
    let design = before;
    for (const [path, value] of Object.entries(changes)) {
      const named = Array.isArray(value) && rowsHaveIds(this.schema, design, path);
      design = setAt(design, path, keyed(getAt(design, path), value, named));
    }
    design = followed(before, whole(this.schema, design));
    if (!("chosen" in changes))
      design = setAt(design, "chosen", chosenAfter(design.chosen ?? [], changes, chosen));
    this.replace(design);
  }

  /** Rows put in, taken out or moved: nobody has chosen anything by that. */
  setRows = (rows: Record<string, unknown>) => this.setAll(rows, "", []);

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
    const kept = this.drafts.keep({ base: this.view.version, design: this.view.design });
    if (kept !== this.view.kept) this.show({ kept });
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
    if (conflict) void this.layOver();
    else this.saveSoon();
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
      const answer = await act<{ version: number; saved_at: string }>(`/axes/${id}`, {
        method: "PUT",
        body: { base_version: version, design },
        keepalive,
        repeatable: true,
      });
      this.saved = design;
      this.savedAt = answer.version;
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
      void this.layOver();
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

  /** After another window saved: what was changed here is laid over what stands now. Only what both changed is a question. */
  private async layOver() {
    try {
      const axis = await ask<Axis>(`/axes/${this.view.id}`);
      if (!axis.design) return this.show({ why: "What it has saved cannot be read." });
      this.other = { base: await this.begunFrom(), axis: axis as Opened };
      this.lay();
    } catch (error) {
      this.show({ save: "failing", why: error instanceof Error ? error.message : "" });
      this.saveSoon(RETRY_MS);
    }
  }

  /** The revision that this window's changes are made on; nothing where it was thinned out. */
  private async begunFrom(): Promise<Design> {
    if (this.savedAt === this.view.version) return this.saved;
    const at = `/axes/${this.view.id}/revisions/${this.view.version}`;
    return ask<Design>(at).catch((error: unknown) => {
      if (error instanceof Refusal) return {} as Design;
      throw error;
    });
  }

  private lay() {
    const { base, axis } = this.other!;
    const { made, clashes } = laidDesigns(base, this.view.design, axis.design, this.picks);
    const open = clashes.filter((c) => !this.picks.has(c.ref));
    if (open.length > 0) return this.show({ save: "conflict", clashes: open });
    // Steps of undo are this window's own: what the other one alone has set stays set.
    const over = (d: Design) => laidDesigns(base, d, axis.design, MINE).made;
    this.past = this.past.map(over);
    this.future = this.future.map(over);
    if ([...this.picks.values()].includes(false)) this.past.push(over(this.view.design));
    const design = same(made, whole(this.schema, axis.design)) ? axis.design : whole(this.schema, made);
    this.other = null;
    this.picks.clear();
    this.saved = axis.design;
    this.savedAt = axis.version;
    this.standing = axis.problems;
    this.lastPath = "";
    this.show({
      design,
      version: axis.version,
      savedAt: axis.saved_at,
      save: "waiting",
      why: "",
      clashes: [],
      laid: same(base, {}) ? [] : differing(base, axis.design),
      stale: true,
      ...this.ways(),
    });
    void this.evaluate();
    if (design === axis.design) return this.settled();
    this.keep();
    this.saveSoon();
  }

  /** What both have set: one of the two counts. */
  pick(refs: readonly string[], mine: boolean) {
    for (const ref of refs) this.picks.set(ref, mine);
    if (this.other) this.lay();
  }

  /** What another window has set was read. */
  heard = () => this.show({ laid: [] });

  /** Takes a design that the program has just stored. */
  load(axis: Opened) {
    this.saved = axis.design;
    this.savedAt = axis.version;
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
    const axis = await act<Axis>(`/axes/${this.view.id}/restore`, {
      body: { base_version: this.view.version, number },
    });
    this.past.push(before);
    if (axis.design) this.load(axis as Opened);
  }
}

const MOMENTS = ["online", "focus", "visibilitychange"] as const;
