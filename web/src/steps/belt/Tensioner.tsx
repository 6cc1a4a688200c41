/** The tensioner: its travel as a ruler, the screw and slot to make, its force, and what a turn of the screw does. */
import type { BeltPlan } from "../../api/client";
import { useBench, useNumbers } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { PartForm } from "../PartForm";
import { TensionerRuler } from "./TensionerRuler";

type Plan = NonNullable<BeltPlan["tensioner"]>;

export function Tensioner({ plan }: { plan: Plan | null }) {
  const { session } = useBench();
  const { show } = useNumbers();
  const mm = (v: number) => `${show(v, "mm", 4).text} ${show(v, "mm", 4).unit}`;
  const mends = Object.entries(plan?.mend ?? {});
  return (
    <section className="sheet" data-tensioner>
      <h2>
        Tensioner <span className="quiet">from belt slipped on to belt tight, run in, and off again</span>
      </h2>
      {plan && <TensionerRuler pieces={plan.pieces} needs={plan.needs_mm} has={plan.has_mm} />}
      {plan && (
        <p style={{ margin: "4px 0 8px", display: "flex", gap: 12, alignItems: "center", flexWrap: "wrap" }}>
          <span className={plan.has_mm < plan.needs_mm ? "signal" : ""} data-tensioner-says>
            {plan.says}
          </span>
          {mends.length > 0 && (
            <button className="act tight main" onClick={() => session.setAll(plan.mend)}>
              Mend it:{" "}
              {mends
                .map(([field, v]) => `${field.endsWith("travel_mm") ? "travel" : "screw"} ${mm(v)}`)
                .join(", ")}
            </button>
          )}
        </p>
      )}
      <PartForm path="end.tensioner" />
      {plan && (
        <>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="tensioner.screw_length" label="Screw, at least" />
            <Figure of="tensioner.slot" label="Slot, at least" />
            <Figure of="tensioner.pull" label="Pull on it at rest" />
            <Figure of="tensioner.force" label="Force in each screw" />
            <Figure of="tensioner.torque" label="Torque to turn it" />
            <Figure of="tensioner.turn" label="Tension for one turn" />
            <Figure of="tensioner.per_n" label="Turn for 1 N" />
          </div>
          <p className="small" style={{ marginTop: 8 }} data-screw>
            To buy or take: <b>{plan.screw}</b>
            {plan.screw_mm !== null && (
              <>
                {" "}
                <button
                  className="plain"
                  onClick={() => session.set("end.tensioner.screw_length_mm", plan.screw_mm)}
                >
                  use it
                </button>
              </>
            )}
            . {plan.set_by} Then lock it: {plan.lock_by.replace(/^./, (c) => c.toLowerCase())}
          </p>
        </>
      )}
    </section>
  );
}
