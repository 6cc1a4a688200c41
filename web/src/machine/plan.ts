/** A machine as it is worked out, and what is changed of it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, type MachineAnswer, type MachinePlan, type Purchase } from "../api/client";
import { useChange, useInLine, useStart } from "../api/queries";
import { useSystem } from "../design/context";
import { today } from "../steps/log/today";
import { quantity } from "../units/format";

export const useMachine = (id: string) =>
  useQuery({
    queryKey: ["machine", id],
    queryFn: () => ask<MachineAnswer>(`/machines/${id}?today=${today()}`),
    refetchOnMount: "always",
  });

/** Saves what is beside the axes, one change after the other: each is made from the plan that the one before has left. */
export function usePlan(machine: MachineAnswer) {
  const queries = useQueryClient();
  const save = useInLine(
    `machine ${machine.id}`,
    (make: (plan: MachinePlan) => Partial<MachinePlan>) => {
      const { version, plan } = queries.getQueryData<MachineAnswer>(["machine", machine.id]) ?? machine;
      return ask(`/machines/${machine.id}/plan`, {
        method: "PUT",
        body: { base_version: version, plan: { ...plan, ...make(plan) } },
      });
    },
    "machine",
  );
  return {
    save: save.mutate,
    busy: save.isPending,
    change: (i: number, part: Partial<Purchase>) =>
      save.mutate((plan) => ({ bought: plan.bought.map((p, j) => (j === i ? { ...p, ...part } : p)) })),
  };
}

export function useTick(machine: { id: string }) {
  const change = useChange(
    ({ ref, on, stood }: { ref: string; on: boolean; stood: Record<string, string> }) =>
      ask(`/machines/${machine.id}/tick`, {
        method: "PUT",
        body: { ref, day: on ? today() : "", stood: on ? stood : {} },
      }),
    "machine",
    "axis",
    "shelf",
  );
  const under = change.isPending ? change.variables : null;
  return {
    tick: change.mutate,
    ticked: (step: { key: string; now: string }) =>
      under?.ref === step.key ? under.on : step.now === "done",
  };
}

/** A length, mass or power in the chosen units. */
export function useSaid() {
  const start = useStart();
  const [system] = useSystem();
  return (value: number | null | undefined, unit: string, digits = 3) =>
    quantity(value, unit, start.data?.units ?? {}, system, digits);
}

/** An amount of money as typed; null where it is none, or less than nothing. */
export const amount = (typed: string) => {
  const value = Number(typed.replace(",", "."));
  return typed.trim() !== "" && Number.isFinite(value) && value >= 0 ? value : null;
};
