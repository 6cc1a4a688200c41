/**
 * What is typed and not sent yet: kept in this browser under its place, so that it comes back there after another step,
 * a reload or a closed tab. A form says `useDraft("its name", { field: "" })`; what has been sent is dropped.
 */
import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import { useLocation } from "react-router";
import { BASE } from "../api/client";

const ROOT = "crisp-cadence.typed.";
const KEPT_MS = 30 * 86_400_000;

interface Kept {
  at: number;
  value: unknown;
}

class Typed {
  /** Places whose text this browser did not take. */
  private lost = new Set<string>();
  private listeners = new Set<() => void>();

  constructor() {
    window.addEventListener("beforeunload", (e) => {
      if (this.lost.size > 0) e.preventDefault();
    });
  }

  read(place: string): unknown {
    try {
      const kept = JSON.parse(localStorage.getItem(ROOT + place) ?? "null") as Kept | null;
      return kept && Date.now() - kept.at < KEPT_MS ? kept.value : undefined;
    } catch {
      return undefined;
    }
  }

  keep(place: string, value: unknown) {
    try {
      localStorage.setItem(ROOT + place, JSON.stringify({ at: Date.now(), value } satisfies Kept));
      this.tell(place, false);
    } catch {
      this.tell(place, true);
    }
  }

  drop(place: string) {
    try {
      localStorage.removeItem(ROOT + place);
    } catch {
      // Where nothing can be kept there is nothing to drop.
    }
    this.tell(place, false);
  }

  /** Whether a place is not kept, told to whoever shows it. */
  tell(place: string, lost: boolean) {
    if (lost === this.lost.has(place)) return;
    if (lost) this.lost.add(place);
    else this.lost.delete(place);
    this.listeners.forEach((l) => l());
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  notKept = () => this.lost.size > 0;
}

export const typed = new Typed();

/** Whether something that was typed on this page is not kept by this browser. */
export const useNotKept = () => useSyncExternalStore(typed.subscribe, typed.notKept);

/** Where what is typed on this page is kept. */
export const usePlace = (name: string) => `${BASE}${useLocation().pathname.replace(/\/$/, "")}|${name}`;

export interface Draft<T> {
  value: T;
  set: (change: Partial<T>) => void;
  /** Sent, or thrown away: the form is as it begins, and nothing of it is kept. */
  drop: () => void;
  /** Something stands there that was not sent. */
  typed: boolean;
  /** Counts the times that it began anew: a key for fields that keep their own text. */
  turn: number;
}

/** What stands in a form. */
export function useDraft<T extends object>(name: string, begins: T): Draft<T> {
  const place = usePlace(name);
  const [first] = useState(begins);
  const [state, setState] = useState(() => {
    const kept = typed.read(place) as Partial<T> | undefined;
    return { value: { ...begins, ...kept }, typed: kept !== undefined, turn: 0 };
  });
  const set = useCallback(
    (change: Partial<T>) =>
      setState((now) => {
        const value = { ...now.value, ...change };
        typed.keep(place, value);
        return { ...now, value, typed: true };
      }),
    [place],
  );
  const drop = useCallback(() => {
    typed.drop(place);
    setState((now) => ({ value: first, typed: false, turn: now.turn + 1 }));
  }, [place, first]);
  return { ...state, set, drop };
}

/** The text of one field that keeps it itself; `begins` where nothing was typed. */
export function useText(name: string, begins: string) {
  const place = usePlace(`text ${name}`);
  const [first] = useState(begins);
  const kept = (at: string) => typed.read(at) as string | undefined;
  const [state, setState] = useState({ place, text: kept(place) ?? begins });
  // Its place is known in full only once the units have come.
  const now = state.place === place ? state : { place, text: kept(place) ?? state.text };
  if (now !== state) setState(now);
  const { text } = now;
  const set = (next: string) => {
    setState({ place, text: next });
    if (next === first) typed.drop(place);
    else typed.keep(place, next);
  };
  return [text, set] as const;
}

/** What was typed on this page into fields that keep their own text was sent, by their names or all of it. */
export function useSent() {
  const place = usePlace("text ");
  return useCallback(
    (...names: string[]) => {
      const all = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? "");
      for (const key of all)
        if (
          key.startsWith(ROOT + place) &&
          (names.length === 0 || names.some((n) => key.startsWith(`${ROOT}${place}${n} `)))
        )
          typed.drop(key.slice(ROOT.length));
    },
    [place],
  );
}

/** While something else is not kept: a design that this browser takes no draft of. */
export function useTellLost(place: string, lost: boolean) {
  useEffect(() => {
    typed.tell(place, lost);
    return () => typed.tell(place, false);
  }, [place, lost]);
}
