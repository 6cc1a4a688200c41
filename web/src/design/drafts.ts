/**
 * What has not reached the program yet, kept in the browser: one key a window, deleted only by the window that writes it.
 *
 * A window holds a lock on its key for as long as it lives (Web Locks), so that a draft whose lock is free is known to be of a window that
 * was closed or crashed. Where a browser has no locks, nothing is taken over by itself; what is found is offered.
 */
import type { Design } from "../api/client";

export interface Draft {
  base: number;
  design: Design;
  at: string;
}
export interface Found extends Draft {
  key: string;
}

const ROOT = "crisp-cadence.unsaved";

function read(key: string): Found | null {
  try {
    const draft = JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
    return draft && typeof draft.base === "number" && draft.design
      ? { ...draft, at: draft.at ?? "", key }
      : null;
  } catch {
    return null;
  }
}

export class Drafts {
  private key: string;
  private held: (() => void)[] = [];
  private closed = false;

  constructor(private axis: string) {
    this.key = `${ROOT}.${axis}.${crypto.getRandomValues(new Uint32Array(2)).join("")}`;
  }

  /** Takes this window's key; gives the newest draft of a window that is gone, which becomes this window's own, and all others that are found. */
  async open(): Promise<{ mine: Found | null; others: Found[] }> {
    this.closed = false;
    await this.hold(this.key);
    const left: Found[] = [];
    for (const key of this.keys()) {
      const draft = key === this.key ? null : read(key);
      if (draft && (await free(key))) left.push(draft);
    }
    left.sort((a, b) => b.at.localeCompare(a.at));
    const mine = left[0] && locks() && (await this.hold(left[0].key)) ? left[0] : null;
    if (mine) this.key = mine.key;
    return { mine, others: left.filter((d) => d !== mine) };
  }

  /** Whether it is kept: private windows and full disks refuse it. */
  keep(draft: Omit<Draft, "at">): boolean {
    try {
      localStorage.setItem(
        this.key,
        JSON.stringify({ ...draft, at: new Date().toISOString() } satisfies Draft),
      );
      return true;
    } catch {
      return false; // the save that follows still goes out
    }
  }

  drop() {
    localStorage.removeItem(this.key);
  }

  /** Strikes out a draft that was found: by a person's decision, or because it is saved already; never one of a window that lives. */
  async forget(found: Found) {
    if (await free(found.key)) localStorage.removeItem(found.key);
  }

  /** Lets go of the key: what is kept under it can be found by the next window. */
  close() {
    this.closed = true;
    for (const release of this.held.splice(0)) release();
  }

  private keys(): string[] {
    const all = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? "");
    return all.filter((k) => k === `${ROOT}.${this.axis}` || k.startsWith(`${ROOT}.${this.axis}.`));
  }

  private hold(key: string): Promise<boolean> {
    const manager = locks();
    if (!manager) return Promise.resolve(true);
    return new Promise((done) => {
      void manager.request(key, { ifAvailable: true }, (lock) => {
        done(lock !== null);
        if (!lock || this.closed) return undefined;
        return new Promise<void>((release) => this.held.push(release));
      });
    });
  }
}

const locks = (): LockManager | undefined => (navigator as { locks?: LockManager }).locks;

/** Whether no living window holds a key. */
async function free(key: string): Promise<boolean> {
  const manager = locks();
  if (!manager) return true;
  const { held } = await manager.query();
  return !held?.some((l) => l.name === key);
}
