/** Steps of work as a checklist: what each takes, what it waits for, and what has changed since it was done. */
import type { ReactNode } from "react";
import type { Report } from "../../api/client";
import { Act } from "../../kit/Act";
import { Tick } from "../../kit/inputs";
import { Caution } from "../../kit/sheets";
import css from "./work.module.css";

export type Planned = Report["work"][number];

/** Places of the steps with these keys, in order. */
function places(work: readonly Planned[], keys: readonly string[]) {
  const wanted = new Set(keys);
  return work.flatMap((w, i) => (wanted.has(w.key) ? [i + 1] : []));
}

/** "3, 4 and 7". */
const listed = (said: readonly (string | number)[]) =>
  said.length < 2 ? said.join("") : `${said.slice(0, -1).join(", ")} and ${said.at(-1)}`;

/** "3, 4 and 7" for the steps with these keys. */
export const numbers = (work: readonly Planned[], keys: readonly string[]) => listed(places(work, keys));

/** "3 to 7, 9 and 11 to 14": the same of many. */
export function ranges(work: readonly Planned[], keys: readonly string[]) {
  const runs: [number, number][] = [];
  for (const place of places(work, keys)) {
    const last = runs.at(-1);
    if (last?.[1] === place - 1) last[1] = place;
    else runs.push([place, place]);
  }
  return listed(runs.map(([a, b]) => (a === b ? a : b === a + 1 ? `${a}, ${b}` : `${a} to ${b}`)));
}

interface Props {
  work: readonly Planned[];
  /** Where it is one of several axes, whose it is. */
  whose?: (step: Planned) => ReactNode;
  /** Which of them are in sight; all, where it is not said. */
  shown?: (step: Planned) => boolean;
  /** What has to be done first that is not among them, by step. */
  elsewhere?: Readonly<Record<string, readonly string[]>>;
  /** Whether its tick is set; before it is worked out what follows from that. */
  ticked: (step: Planned) => boolean;
  tick: (step: Planned, on: boolean) => void;
}

export function StepRows({ work, whose, shown = () => true, elsewhere = {}, ticked, tick }: Props) {
  return (
    <ol className={css.work}>
      {work.map(
        (w, i) =>
          shown(w) && (
            <li key={w.key} data-work={w.key} data-now={w.now}>
              <span className={css.place}>{i + 1}</span>
              {w.now === "waits" ? (
                <span className={css.waits} aria-hidden="true" />
              ) : (
                <Tick bare id={`step-${w.key}`} label={w.do} on={ticked(w)} onValue={(on) => tick(w, on)} />
              )}
              <div>
                {whose?.(w)}
                <label htmlFor={`step-${w.key}`}>{w.do}</label>
                {w.now === "done" ? <Done step={w} onStill={() => tick(w, true)} /> : <How step={w} />}
                {w.covers.length > 0 && w.now !== "done" && (
                  <div className="small quiet">
                    Once on, it covers what steps {numbers(work, w.covers)} need.
                  </div>
                )}
                {w.now === "waits" && (
                  <div className="small">
                    waits for {waits(work, w, elsewhere[w.key])}{" "}
                    <span className="no-print">
                      <Act plain aria-label={`${w.do} Done all the same`} onClick={() => tick(w, true)}>
                        done all the same
                      </Act>
                    </span>
                  </div>
                )}
              </div>
              {w.state && <span className={css.state}>{w.state}</span>}
            </li>
          ),
      )}
    </ol>
  );
}

function waits(work: readonly Planned[], w: Planned, others: readonly string[] = []) {
  const steps = w.waits_for_steps;
  return [
    w.waits_for_parts.length > 0 && w.waits_for_parts.join(" and "),
    steps.length > 0 && `${steps.length > 1 ? "steps" : "step"} ${numbers(work, steps)}`,
    others.length > 0 && `the machine's other axes (${others.join("; ")})`,
  ]
    .filter(Boolean)
    .join(", and for ");
}

/** What a step takes, from where, and what to look at. */
function How({ step: w }: { step: Planned }) {
  const takes = [w.tools?.join(", "), w.side && `reached ${w.side}`].filter(Boolean).join(" · ");
  return (
    <>
      {takes && <div className="small quiet">{takes}</div>}
      {w.access && <div className="small">{w.access}</div>}
      {w.check && <div className="small quiet">Check: {w.check}</div>}
      {w.caution && <Caution>{w.caution}</Caution>}
    </>
  );
}

/** When a step was done, and what has changed since. */
function Done({ step: w, onStill }: { step: Planned; onStill: () => void }) {
  return (
    <>
      {w.done_on && <div className="small quiet num">done {w.done_on}</div>}
      {w.undone && (
        <div className="small signal" data-undone>
          {w.undone}{" "}
          <span className="no-print">
            <Act plain aria-label={`${w.do} Still right`} onClick={onStill}>
              it is still right
            </Act>
          </span>
        </div>
      )}
    </>
  );
}
