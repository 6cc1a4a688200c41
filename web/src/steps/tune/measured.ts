/** What an axis has to be measured, and what was read of it last. */
import { type BeltToRead, type LogEntry, type ToMeasure } from "../../api/client";
import { useAsked, useLog } from "../../api/queries";
import { useBench, useView } from "../../design/context";

/** Belts, trials and scale of the design as it stands; the last answer stays until the next is there. */
export function useToMeasure() {
  const { design } = useView();
  return useAsked<ToMeasure>("bench", design, {}, true, true);
}

/** What a kept reading holds, of whichever kind. */
export interface Kept {
  how?: "pluck" | "push" | "scale" | "thumb" | "trial" | "wheels" | "moves" | "diagonals" | "gauges";
  of?: string;
  belt?: string;
  at?: string;
  tension_n?: number;
  low_n?: number | null;
  high_n?: number | null;
  verdict?: string;
  frequency_hz?: number;
  span_mm?: number;
  force_n?: number;
  deflection_mm?: number;
  look_again?: string;
  name?: string;
  unit?: string;
  mean?: number;
  load?: number;
  least?: number;
  most?: number;
  within?: number | null;
  values?: number[];
  lead_mm?: number;
  says?: unknown;
  sets?: string;
  value?: number;
  low?: number | null;
  high?: number | null;
}

export const keptOf = (entry: LogEntry): Kept => (entry.reading ?? {}) as Kept;

/** The newest reading that passes, with its day. */
export function useLast(passes: (kept: Kept) => boolean): { kept: Kept; day: string } | null {
  const { id } = useView();
  const entry = useLog(id).data?.find((e) => e.reading && passes(keptOf(e)));
  return entry ? { kept: keptOf(entry), day: entry.on_date } : null;
}

/** Whether a kept reading is of a belt's tension: moves say theirs too. */
export const isTension = (kept: Kept) => typeof kept.tension_n === "number" && kept.how !== "moves";

/** Whether it is of this belt; older ones of the end say nothing. */
export const isOf = (belt: BeltToRead) => (kept: Kept) => isTension(kept) && (kept.of || "end") === belt.of;

/** Whether a kept reading is of a trial; its key tells which. */
export const isTried = (kept: Kept) => kept.how === "trial";

/** The newest readings that pass, each by what it is of. */
export function useLasts(passes: (kept: Kept) => boolean): Map<string, { kept: Kept; day: string }> {
  const { id } = useView();
  const last = new Map<string, { kept: Kept; day: string }>();
  for (const e of useLog(id).data ?? []) {
    const kept = keptOf(e);
    if (passes(kept) && kept.of && !last.has(kept.of)) last.set(kept.of, { kept, day: e.on_date });
  }
  return last;
}

/** Keeps a number of the design as measured on the real thing. */
export function useKeep() {
  const { session } = useBench();
  return (field: string, value: number) =>
    session.set("measured", [
      ...(session.get().design.measured ?? []).filter((m) => m.field !== field),
      { field, value },
    ]);
}
