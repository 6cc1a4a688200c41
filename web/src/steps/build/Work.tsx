/** The order of work as a checklist that knows what comes first, what covers what, and which part is still on its way. */
import { useBench, useNumbers, usePick, useView } from "../../design/context";
import { useTick } from "../../machine/plan";
import { money } from "../../units/format";
import { Act } from "../../kit/Act";
import { Cols, Fields, Fold, Sheet } from "../../kit/sheets";
import { ChoiceField } from "../../fields/OtherFields";
import { today } from "../log/today";
import { useWork } from "./inMachine";
import { numbers, StepRows, type Planned } from "./StepRows";
import css from "./work.module.css";

const ofMachine = (step: Planned) => step.key.startsWith(":");
const firstPart = (says: string) => says.split(/[:;.(]/)[0] ?? says;

export function Today() {
  const { report } = useNumbers();
  const { work } = useWork();
  if (!report) return null;
  const { to_order: orders } = report;
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
                  <span className="num quiet">{numbers(work, [w.key])}</span> {firstPart(w.do)}
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
                  {o.for_step && <span className="small quiet"> for step {numbers(work, [o.for_step])}</span>}
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
  const { work, elsewhere } = useWork();
  const own = useTick({ id: usePick((v) => v.machineId) });
  const done = design.done ?? [];
  const keyOf = (d: (typeof done)[number]) => (typeof d === "string" ? d : d.step);
  const tick = (w: Planned, on: boolean) => {
    if (ofMachine(w)) return own.tick({ ref: w.key, on, stood: {} });
    const others = done.filter((d) => keyOf(d) !== w.key);
    session.set("done", on ? [...others, { step: w.key, day: today(), stood: w.stands }] : others);
  };
  return (
    <Sheet title="Order of work" note="tick what is done; the next steps open by themselves">
      <StepRows
        work={work}
        whose={(w) => ofMachine(w) && <div className="small quiet">own step, of the machine</div>}
        elsewhere={elsewhere}
        ticked={(w) => (ofMachine(w) ? own.ticked(w) : done.some((d) => keyOf(d) === w.key))}
        tick={tick}
      />
      <Fold title="Where makers differ" says="threadlock, and what is begun with">
        <Fields>
          <ChoiceField path="schools.threadlock" />
          <ChoiceField path="schools.first" />
        </Fields>
      </Fold>
    </Sheet>
  );
}
