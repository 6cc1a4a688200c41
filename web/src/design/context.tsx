/** Hands the session, the units and the chosen system to every part of an axis's screens. */
import { createContext, useCallback, useContext, useSyncExternalStore, type ReactNode } from "react";
import { useLocalStorage } from "@mantine/hooks";
import type { Quantity, Start } from "../api/client";
import { quantity, type Shown, type System } from "../units/format";
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

export function useSystem() {
  return useLocalStorage<System>({ key: "crisp-cadence.units", defaultValue: "metric", getInitialValueInEffect: false });
}

/** Results of the present report by key, and a way to show a number in the chosen units. */
export function useNumbers() {
  const { report } = useView();
  const { start } = useBench();
  const [system] = useSystem();
  const find = useCallback((key: string): Quantity | undefined => report?.results.find((q) => q.key === key), [report]);
  const show = useCallback((value: number | null | undefined, unit: string, digits = 3): Shown => quantity(value, unit, start.units, system, digits), [start, system]);
  return { find, show, report };
}
