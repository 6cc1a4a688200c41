/** The order of work as a checklist that knows what comes first, what covers what, and which part is still on its way. */
import { useBench, useNumbers, useView } from "../../design/context";
import type { Report } from "../../api/client";
import { money } from "../../units/format";
import { Act } from "../../kit/Act";
import { Tick } from "../../kit/inputs";
import { Caution, Cols, Sheet } from "../../kit/sheets";
import css from "./work.module.css";

type Planned = Report["work"][number];

/** "3, 4 and 7" for the steps with these keys. */
function steps(work: readonly Planned[], keys: readonly string[]) {
  const places = keys
    .map((k) => work.findIndex((w) => w.key === k) + 1)
    .filter((n) => n > 0)
    .sort((a, b) => a - b);
  return places.length < 2 ? places.join("") : `${places.slice(0, -1).join(", ")} and ${places.at(-1)}`;
}

const firstPart = (says: string) => says.split(/[:;.(]/)[0] ?? says;

export function Today() {
  const { report } = useNumbers();
  if (!report) return null;
  const { work, to_order: orders } = report;
  const ready = work.filter((w) => w.now === "ready");
  const done = work.filter((w) => w.now === "done").length;
  return (
    <Sheet
      title="Today"
      note={`${done} of ${work.length} steps done`}
      aside={
        <span className="no-print">
          <Act onClick={() => window.print()}>Print this step</Act>
        </span>
      }
    >
      <Cols tight>
        <div>
          <h3>Can be done with what is here</h3>
          {ready.length === 0 && (
            <p>
              {done === work.length
                ? "Everything is done. Tune next."
                : "Nothing: every step waits for a part. Order the first one on the right."}
            </p>
          )}
          <ol className={css.list}>
            {ready.slice(0, 5).map((w) => (
              <li key={w.key}>
                <a
                  href={`#step-${w.key}`}
                  onClick={(e) => (e.preventDefault(), document.getElementById(`step-${w.key}`)?.focus())}
                >
                  <span className="num quiet">{steps(work, [w.key])}</span> {firstPart(w.do)}
                </a>
              </li>
            ))}
          </ol>
          {ready.length > 5 && <p className="small quiet">and {ready.length - 5} more below</p>}
        </div>
        <div>
          <h3>Order next: what holds up the earliest step first</h3>
          {orders.length === 0 && <p>Nothing: every part is here.</p>}
          <ol className={css.list} data-orders>
            {orders.slice(0, 5).map((o) => (
              <li key={o.field} className={css.order}>
                <span>
                  {o.what}
                  {o.for_step && <span className="small quiet"> for step {steps(work, [o.for_step])}</span>}
                </span>
                <span className="num">{money(o.total, report.currency)}</span>
              </li>
            ))}
          </ol>
          {orders.length > 5 && <p className="small quiet">and {orders.length - 5} more on the bill</p>}
        </div>
      </Cols>
    </Sheet>
  );
}

export function Work() {
  const { session } = useBench();
  const { design } = useView();
  const { report } = useNumbers();
  const work = report?.work ?? [];
  const done = design.done ?? [];
  const tick = (key: string, on: boolean) =>
    session.set("done", on ? [...done, key] : done.filter((k) => k !== key));
  return (
    <Sheet title="Order of work" note="tick what is done; the next steps open by themselves">
      <ol className={css.work}>
        {work.map((w, i) => (
          <li key={w.key} data-work={w.key} data-now={w.now}>
            <span className={css.place}>{i + 1}</span>
            {w.now === "waits" ? (
              <span className={css.waits} aria-hidden="true" />
            ) : (
              <Tick
                bare
                id={`step-${w.key}`}
                label={w.do}
                on={done.includes(w.key)}
                onValue={(on) => tick(w.key, on)}
              />
            )}
            <div>
              <label htmlFor={`step-${w.key}`}>{w.do}</label>
              {w.check && w.now !== "done" && <div className="small quiet">Check: {w.check}</div>}
              {w.covers.length > 0 && w.now !== "done" && (
                <div className="small quiet">Once on, it covers what steps {steps(work, w.covers)} need.</div>
              )}
              {w.caution && w.now !== "done" && <Caution>{w.caution}</Caution>}
              {w.now === "waits" && (
                <div className="small">
                  waits for{" "}
                  {[
                    w.waits_for_parts.length > 0 && w.waits_for_parts.join(" and "),
                    w.waits_for_steps.length > 0 &&
                      `${w.waits_for_steps.length > 1 ? "steps" : "step"} ${steps(work, w.waits_for_steps)}`,
                  ]
                    .filter(Boolean)
                    .join(", and for ")}{" "}
                  <Act plain aria-label={`${w.do} Done all the same`} onClick={() => tick(w.key, true)}>
                    done all the same
                  </Act>
                </div>
              )}
            </div>
            {w.state && <span className={css.state}>{w.state}</span>}
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
