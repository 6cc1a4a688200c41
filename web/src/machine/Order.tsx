/** One order of work over all axes: what can be done today, the steps, and the maker's own among them. */
import { useState } from "react";
import type { MachineAnswer, OwnStep } from "../api/client";
import { newKey } from "../api/keys";
import { useDraft } from "../design/typed";
import { Act } from "../kit/Act";
import { Unsent } from "../kit/Unsent";
import { Pick, Tick, Words } from "../kit/inputs";
import { Cols, Fields, Fold, Line, Sheet } from "../kit/sheets";
import { money } from "../units/format";
import { numbers, ranges, StepRows } from "../steps/build/StepRows";
import { usePlan, useTick } from "./plan";
import css from "./machine.module.css";

export function Today({ machine }: { machine: MachineAnswer }) {
  const { work, until, lines, money: sum } = machine.report;
  const steps = work.map((w) => w.step);
  const done = steps.filter((s) => s.now === "done").length;
  const wanted = lines.filter((x) => x.state === "wanted");
  return (
    <Sheet title="Today" note={`${done} of ${steps.length} steps done`} data-today>
      <Cols tight>
        <div>
          <h3>What could be finished, by when</h3>
          <ul className={css.plain}>
            {until.map((u, i) => (
              <li key={u.day} data-until={u.day}>
                <b className="num">{i === 0 ? "Now" : u.day}</b>
                {u.brings.length > 0 && ` with ${u.brings.join(" and ")}`}:{" "}
                {u.steps.length === 0
                  ? "no step more"
                  : `${u.steps.length === 1 ? "step" : "steps"} ${ranges(steps, u.steps)}`}
              </li>
            ))}
          </ul>
        </div>
        <div>
          <h3>Order next: what holds up the earliest step first</h3>
          {wanted.length === 0 && <p>Nothing: all is here or on its way.</p>}
          <ol className={css.plain} data-orders>
            {wanted.slice(0, 6).map((x) => (
              <li key={x.line} className={css.order}>
                <span>
                  {x.what} <span className="small quiet">{x.axis}</span>
                  {x.for_step && (
                    <span className="small quiet"> for step {numbers(steps, [x.for_step])}</span>
                  )}
                </span>
                <span className="num">
                  {money(x.to_spend, sum.currency)}{" "}
                  <span className="small quiet">{x.so_far?.toFixed(2)} in all</span>
                </span>
              </li>
            ))}
          </ol>
          {wanted.length > 6 && <p className="small quiet">and {wanted.length - 6} more below</p>}
        </div>
      </Cols>
    </Sheet>
  );
}

export function Order({ machine }: { machine: MachineAnswer }) {
  const { work } = machine.report;
  const { tick, ticked } = useTick(machine);
  const [all, setAll] = useState(false);
  const done = work.filter((w) => w.step.now === "done" && !w.step.undone).length;
  const names = new Map(work.map((w) => [w.step.key, w.axis_name]));
  return (
    <Sheet
      title="Order of work"
      note="one order over all axes; tick what is done"
      aside={
        done > 0 && (
          <span className="no-print">
            <Tick label={`with the ${done} that are done`} on={all} onValue={setAll} />
          </span>
        )
      }
      data-order-of-work
    >
      <StepRows
        work={work.map((w) => w.step)}
        shown={(w) => all || w.now !== "done" || Boolean(w.undone)}
        whose={(w) => <div className={css.whose}>{names.get(w.key) || "own step"}</div>}
        ticked={ticked}
        tick={(w, on) => tick({ ref: w.key, on, stood: w.stands ?? {} })}
      />
      <Own machine={machine} />
    </Sheet>
  );
}

const FRESH = { do: "", after: "", before: "", covers: "" };

/** Steps of the maker's own, and steps put before others. */
function Own({ machine }: { machine: MachineAnswer }) {
  const { save, busy } = usePlan(machine);
  const draft = useDraft("own step", FRESH);
  const typed = draft.value;
  const own = machine.plan.own ?? [];
  const moved = machine.plan.moved ?? [];
  const options = [
    { value: "", label: "any" },
    ...machine.report.work.map((w) => ({
      value: w.step.key,
      label: `${w.number} ${w.axis_name ? `${w.axis_name}: ` : ""}${w.step.do.slice(0, 60)}`,
    })),
  ];
  const moving = !typed.do.trim();
  // What has to come before a step cannot come after it.
  const chosen = machine.report.work.find((w) => w.step.key === typed.after);
  const later = new Set(moving && chosen ? [...chosen.behind, chosen.number] : []);
  const free = options.filter((_, i) => !later.has(i));
  const add = () => {
    const one = (ref: string) => (ref ? [ref] : []);
    const step = {
      do: typed.do,
      check: "",
      after: one(typed.after),
      before: one(typed.before),
      covers: one(typed.covers),
      done: "",
    };
    save((plan) => ({ own: [...plan.own, { ...step, key: fresh(step.do, plan.own) }] }), {
      onSuccess: draft.drop,
    });
  };
  return (
    <Fold
      title="Own steps, and another order"
      says={own.length + moved.length > 0 ? `${own.length} of your own, ${moved.length} moved` : "none yet"}
    >
      {() => (
        <>
          <Fields>
            <Words label="What is done" value={typed.do} most={600} onValue={(v) => draft.set({ do: v })} />
            {(["after", "before", "covers"] as const).map((name) => (
              <Pick
                key={name}
                label={{ after: "After", before: "Before", covers: "Covers what it needs" }[name]}
                value={typed[name]}
                options={name === "before" ? free : options}
                onValue={(v) => draft.set({ [name]: v })}
              />
            ))}
          </Fields>
          <Line foot>
            <Act disabled={!typed.do.trim()} busy={busy} onClick={add}>
              Add the step
            </Act>
            <Act
              busy={busy}
              disabled={!typed.after || !typed.before || !moving}
              onClick={() =>
                save(
                  (plan) => ({
                    moved: [...plan.moved, { id: newKey(6), step: typed.after, before: typed.before }],
                  }),
                  {
                    onSuccess: draft.drop,
                  },
                )
              }
            >
              Put “after” before “before”
            </Act>
            <Unsent of={draft} what="what is typed" />
            <span className="small quiet">An order that cannot be is refused, with the steps named.</span>
          </Line>
          <ul className={css.plain}>
            {own.map((s) => (
              <li key={s.key} data-own={s.key}>
                {s.do}{" "}
                <Act
                  plain
                  aria-label={`Take out ${s.do}`}
                  onClick={() => save((plan) => ({ own: plan.own.filter((o) => o.key !== s.key) }))}
                >
                  Take it out
                </Act>
              </li>
            ))}
            {moved.map((m) => (
              <li key={m.id} data-moved>
                {options.find((o) => o.value === m.step)?.label ?? m.step} comes before{" "}
                {options.find((o) => o.value === m.before)?.label ?? m.before}{" "}
                <Act
                  plain
                  aria-label="Take the order back"
                  onClick={() => save((plan) => ({ moved: plan.moved.filter((o) => o.id !== m.id) }))}
                >
                  Take it back
                </Act>
              </li>
            ))}
          </ul>
        </>
      )}
    </Fold>
  );
}

function fresh(words: string, own: readonly OwnStep[]) {
  const plain = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_|_$/g, "")
    .slice(0, 40);
  const base = plain || "step";
  const taken = new Set(own.map((s) => s.key));
  let key = base;
  for (let n = 2; taken.has(key); n++) key = `${base}_${n}`;
  return key;
}
