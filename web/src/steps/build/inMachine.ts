/** The order of work of this axis as its machine has it, the maker's own steps among it. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, type InMachine } from "../../api/client";
import { keyOf } from "../../api/queries";
import { useNumbers, usePick, useView } from "../../design/context";
import type { Planned } from "./StepRows";

const ALONE: Pick<InMachine, "elsewhere" | "by_parcel"> = { elsewhere: {}, by_parcel: [] };

export function useWork(): Pick<InMachine, "elsewhere" | "by_parcel"> & { work: readonly Planned[] } {
  const { design } = useView();
  const { report } = useNumbers();
  const id = usePick((v) => v.id);
  const machine = usePick((v) => v.machineId);
  const asked = useQuery({
    queryKey: ["machine", machine, "work", id, keyOf(design)],
    queryFn: ({ signal }) => ask<InMachine>(`/axes/${id}/work`, { body: design, signal }),
    retry: false,
    placeholderData: keepPreviousData,
  });
  if (asked.data && asked.data.work.length > 0) return asked.data;
  return { work: report?.work ?? [], ...ALONE };
}
