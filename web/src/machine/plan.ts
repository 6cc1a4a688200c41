/** A machine as it is worked out, and what is changed of it. */
import { useSyncExternalStore } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import {
  act,
  ask,
  Refusal,
  type MachineAnswer,
  type MachinePlan,
  type Purchase,
  type Revision,
} from "../api/client";
import { anew, useChange, useInLine, useStart } from "../api/queries";
import { laid, MINE, type Clash } from "../design/merge";
import { useSystem } from "../design/context";
import { today } from "../steps/log/today";
import { quantity } from "../units/format";

export const useMachine = (id: string) =>
  useQuery({
    queryKey: ["machine", id],
    queryFn: () => ask<MachineAnswer>(`/machines/${id}?today=${today()}`),
    refetchOnMount: "always",
  });

/** One change of a plan, as it was before and after: what is taken back is that change alone, whatever else was set since. */
interface Step {
  before: MachinePlan;
  after: MachinePlan;
}
interface Question {
  clashes: Clash[];
  base: MachinePlan;
  mine: MachinePlan;
}

/** What was done at a machine's plan in this window, and what of it is a question. */
class Steps {
  past: Step[] = [];
  future: Step[] = [];
  /** Revisions below this one are where undo goes on when this window's own steps are used up. */
  below: number | null = null;
  question: Question | null = null;
  private listeners = new Set<() => void>();
  private turn = 0;
  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  get = () => this.turn;
  /** A change was made at a version; nothing to do again any more. */
  did(step: Step | null, version: number) {
    this.below ??= version + 1;
    if (!step) return;
    this.past.push(step);
    this.future = [];
    this.changed();
  }
  /** What was asked, which is no question any more. */
  answered(): Question | null {
    const asked = this.question;
    this.question = null;
    this.changed();
    return asked;
  }
  changed() {
    this.turn += 1;
    this.listeners.forEach((l) => l());
  }
}
const steps = new Map<string, Steps>();
const stepsOf = (id: string) => steps.get(id) ?? steps.set(id, new Steps()).get(id)!;

/** Put on top of what stands: what another window has set meanwhile stays; where both have set the same, it is a question. */
async function put(id: string, base: MachineAnswer, mine: MachinePlan): Promise<Step | null> {
  const save = (version: number, plan: MachinePlan) =>
    act(`/machines/${id}/plan`, { method: "PUT", body: { base_version: version, plan } });
  try {
    await save(base.version, mine);
    return { before: base.plan, after: mine };
  } catch (error) {
    if (!(error instanceof Refusal) || error.status !== 409) throw error;
    const now = await ask<MachineAnswer>(`/machines/${id}?today=${today()}`);
    const { made, clashes } = laid(base.plan, mine, now.plan);
    if (clashes.length > 0) {
      stepsOf(id).question = { clashes, base: base.plan, mine };
      stepsOf(id).changed();
      return null;
    }
    await save(now.version, made);
    return { before: now.plan, after: made };
  }
}

/** Saves what is beside the axes, one change after the other: each is made from the plan that the one before has left. */
export function usePlan(machine: MachineAnswer) {
  const queries = useQueryClient();
  const { id } = machine;
  const own = stepsOf(id);
  useSyncExternalStore(own.subscribe, own.get);
  const here = () => queries.getQueryData<MachineAnswer>(["machine", id]) ?? machine;
  const save = useInLine(
    `machine ${id}`,
    async (make: (plan: MachinePlan) => Partial<MachinePlan>) => {
      const now = here();
      own.did(await put(id, now, { ...now.plan, ...make(now.plan) }), now.version);
    },
    "machine",
  );
  /** One change the other way: over what stands now, so that nothing else is taken back. */
  const turn = useInLine(
    `machine ${id}`,
    async (back: boolean) => {
      const now = here();
      let step = (back ? own.past : own.future).at(-1);
      if (!step && back) step = (await earlier(id, own, now)) ?? undefined;
      if (!step) return own.changed();
      const [from, to] = back ? [step.after, step.before] : [step.before, step.after];
      await put(id, now, laid(from, to, now.plan, MINE).made);
      (back ? own.past : own.future).pop();
      (back ? own.future : own.past).push(step);
      own.changed();
    },
    "machine",
  );
  return {
    save: save.mutate,
    busy: save.isPending || turn.isPending,
    change: (row: string, part: Partial<Purchase>) =>
      save.mutate((plan) => ({ bought: plan.bought.map((p) => (p.id === row ? { ...p, ...part } : p)) })),
    undo: () => turn.mutate(true),
    redo: () => turn.mutate(false),
    canUndo: own.past.length > 0 || (own.below ?? machine.version + 1) > 2,
    canRedo: own.future.length > 0,
    question: own.question,
    /** What both windows have set: one of the two counts. */
    pick: (mine: boolean) => {
      const asked = own.answered();
      if (!asked || !mine) return void anew(queries, "machine");
      const picks = new Map(asked.clashes.map((c) => [c.ref, true]));
      save.mutate((plan) => laid(asked.base, asked.mine, plan, picks).made);
    },
  };
}

/** Undo beyond what this window did: the saved revisions, one after the other. */
async function earlier(id: string, own: Steps, now: MachineAnswer): Promise<Step | null> {
  const before = own.below ?? now.version + 1;
  const found = await ask<Revision[]>(`/machines/${id}/plans?before=${before}&most=2`);
  own.below = found[0]?.number ?? 1;
  if (found.length < 2) {
    own.below = 1;
    return null;
  }
  const [after, was] = await Promise.all(
    found.map((r) => ask<MachinePlan>(`/machines/${id}/plans/${r.number}`)),
  );
  const step = { before: was!, after: after! };
  own.past.push(step);
  return step;
}

export function useTick(machine: { id: string }) {
  const change = useChange(
    ({ ref, on, stood }: { ref: string; on: boolean; stood: Record<string, string> }) =>
      act(`/machines/${machine.id}/tick`, {
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
