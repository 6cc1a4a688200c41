/** Hands the session, the units and the chosen system to every part of an axis's screens. */
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useRef,
  useSyncExternalStore,
  type ReactNode,
} from "react";
import { useLocalStorage } from "@mantine/hooks";
import type { Quantity, Report, Start } from "../api/client";
import { quantity, scaled, type Shown, type System } from "../units/format";
import { fieldAt } from "./fields";
import type { Session, View } from "./session";

interface Bench {
  session: Session;
  start: Start;
}
const BenchContext = createContext<Bench | null>(null);

export function BenchProvider({ session, start, children }: Bench & { children: ReactNode }) {
  return <BenchContext.Provider value={{ session, start }}>{children}</BenchContext.Provider>;
}

export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error("used outside of an axis");
  return bench;
}

export function useView(): View {
  const { session } = useBench();
  return useSyncExternalStore(session.subscribe, session.get);
}

/** One thing picked out of the view: what uses it is drawn anew only when that thing changes, not at every key press. */
export function usePick<T>(pick: (view: View) => T): T {
  const { session } = useBench();
  return useSyncExternalStore(session.subscribe, () => pick(session.get()));
}

export function useSystem() {
  return useLocalStorage<System>({
    key: "crisp-cadence.units",
    defaultValue: "metric",
    getInitialValueInEffect: false,
  });
}

/** Runs something when other units are chosen: what was said by the program is to be said anew. */
export function useOtherUnits(run: () => void) {
  const [system] = useSystem();
  const shown = useRef(system);
  useEffect(() => {
    if (shown.current !== system) run();
    shown.current = system;
  });
}

const byKey = new WeakMap<Report, Map<string, Quantity>>();

/** A result of a report by its key. */
export function resultOf(report: Report | null, key: string): Quantity | undefined {
  if (!report) return undefined;
  let known = byKey.get(report);
  if (!known) byKey.set(report, (known = new Map(report.results.map((q) => [q.key, q]))));
  return known.get(key);
}

/** The plan of the belts, which follows every change while whoever asks for it is shown. */
export function useBeltPlan() {
  const { session } = useBench();
  useEffect(() => session.withBelts(), [session]);
  const data = usePick((v) => v.plan ?? undefined);
  const at = usePick((v) => v.planAt);
  const stale = usePick((v) => v.planStale);
  const failed = usePick((v) => v.planFailed);
  return {
    data,
    error: failed ? new Error(failed) : null,
    isPlaceholderData: data !== undefined && stale,
    dataUpdatedAt: at,
    isFetching: stale && !failed,
    refetch: session.again,
  };
}

/** A way to show a number in the chosen units. */
export function useShow() {
  const { start } = useBench();
  const [system] = useSystem();
  return useCallback(
    (value: number | null | undefined, unit: string, digits = 3): Shown =>
      quantity(value, unit, start.units, system, digits),
    [start, system],
  );
}

/** A way to put numbers into the chosen units, for a plot. */
export function useScale() {
  const { start } = useBench();
  const [system] = useSystem();
  return useCallback(
    <T extends number | null>(values: readonly T[], unit: string): T[] =>
      scaled(values, unit, start.units, system),
    [start, system],
  );
}

/** How many rows a list of the design may hold. */
export function useMost(path: string): number {
  const { session, start } = useBench();
  return fieldAt(start.design_schema, session.get().design, path).most ?? Infinity;
}

/** Results of the present report by key, and a way to show a number in the chosen units. */
export function useNumbers() {
  const report = usePick((v) => v.report);
  const find = useCallback((key: string) => resultOf(report, key), [report]);
  return { find, show: useShow(), report };
}
