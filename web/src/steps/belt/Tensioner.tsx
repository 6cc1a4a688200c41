/** The tensioner: its travel as a ruler, the screw and slot to make, its force, and what a turn of the screw does. */
import type { BeltPlan } from "../../api/client";
import { useBench, useNumbers } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { PartForm } from "../PartForm";
import { TensionerRuler } from "./TensionerRuler";
import { Act } from "../../kit/Act";
import { Figs, Line, Sheet } from "../../kit/sheets";
import { lower } from "../../units/words";

type Plan = NonNullable<BeltPlan["tensioner"]>;

export function Tensioner({ plan }: { plan: Plan | null }) {
  const { session } = useBench();
  const { show } = useNumbers();
  const mm = (v: number) => show(v, "mm", 4).said;
  const mends = Object.entries(plan?.mend ?? {});
  return (
    <Sheet title="Tensioner" note="from belt slipped on to belt tight, run in, and off again" data-tensioner>
      {plan && <TensionerRuler pieces={plan.pieces} needs={plan.needs_mm} has={plan.has_mm} />}
      {plan && (
        <Line>
          <span className={plan.has_mm < plan.needs_mm ? "signal" : ""} data-tensioner-says>
            {plan.says}
          </span>
          {mends.length > 0 && (
            <Act main onClick={() => session.setAll(plan.mend)}>
              Mend it:{" "}
              {mends
                .map(([field, v]) => `${field.endsWith("travel_mm") ? "travel" : "screw"} ${mm(v)}`)
                .join(", ")}
            </Act>
          )}
        </Line>
      )}
      <PartForm path="end.tensioner" />
      {!plan && (
        <Figs>
          <Figure of="tensioner.tooth" label="One tooth makes" />
          <Figure of="tensioner.band" label="Room in the band" />
        </Figs>
      )}
      {plan && (
        <>
          <Figs>
            <Figure of="tensioner.screw_length" label="Screw, at least" />
            <Figure of="tensioner.slot" label="Slot, at least" />
            <Figure of="tensioner.tap" label="Drill for its thread" />
            <Figure of="tensioner.pull" label="Pull on it at rest" />
            <Figure of="tensioner.force" label="Force in each screw" />
            <Figure of="tensioner.torque" label="Torque to turn it" />
            <Figure of="tensioner.turn" label="Tension for one turn" />
            <Figure of="tensioner.per_n" label="Turn for 1 N" />
          </Figs>
          <p className="small" style={{ marginTop: 8 }} data-screw>
            To buy or take: <b>{plan.screw}</b>
            {plan.screw_mm !== null && (
              <>
                {" "}
                <Act plain onClick={() => session.set("end.tensioner.screw_length_mm", plan.screw_mm)}>
                  use it
                </Act>
              </>
            )}
            . {plan.set_by} Then lock it: {lower(plan.lock_by)}
          </p>
        </>
      )}
    </Sheet>
  );
}
