/** Whether the belt runs true: flanges, faces, bends, clearances; and what stands near it. */
import type { BeltPlan } from "../../api/client";
import { useNumbers, usePick, useShow } from "../../design/context";
import { Folded } from "../../fields/Folded";
import { ListOf } from "../../fields/ListOf";
import { NumberField } from "../../fields/NumberField";
import { TextField, TickField } from "../../fields/OtherFields";
import { VerdictMark } from "../../frame/verdict";
import { number } from "../../units/format";
import { Fields, Fold, Num, Part, Sheet, Table } from "../../kit/sheets";
import css from "./belt.module.css";

export function Running({ plan, open }: { plan: BeltPlan; open: boolean }) {
  const { report } = useNumbers();
  const show = useShow();
  const rungs = (report?.ladder ?? []).filter((r) => r.section === "running");
  const said = (v: number | null, unit: string) => (v === null ? "–" : show(v, unit, 3).said);
  return (
    <Sheet title="Running true" note="each line is a rung of the ladder too, and opens there">
      <Table
        columns={[
          "Check",
          { name: "Asked", right: true },
          { name: "There is", right: true },
          { name: "Ratio", right: true },
          "Verdict",
          "If it is short",
        ]}
      >
        {rungs.map((r) => (
          <tr key={r.key} data-check={r.key}>
            <td>{r.label}</td>
            <Num>{said(r.demand, r.unit)}</Num>
            <Num>{said(r.capacity, r.unit)}</Num>
            <Num>{r.ratio === null ? "–" : `${number(r.ratio, 3)} ×`}</Num>
            <td>
              <VerdictMark verdict={r.verdict} />
            </td>
            <td className="small quiet">
              {r.verdict === "holds" || r.verdict === "no demand" ? "" : r.says}
            </td>
          </tr>
        ))}
      </Table>
      {open && <Nearby />}
      {plan.belts.map((b, i) => (
        <Fold key={i} title={`Threading card: ${b.name}`} says={`${b.threading.length} places, in order`}>
          <ol className={css.steps}>
            {b.threading.map((t) => (
              <li key={t}>{t}</li>
            ))}
          </ol>
        </Fold>
      ))}
    </Sheet>
  );
}

function Nearby() {
  const near = usePick((v) => "near" in v.design.end);
  const slot = usePick((v) => "slot_mm" in v.design.end);
  if (!near) return null;
  return (
    <Part title="What the belt must stay clear of">
      {slot && (
        <Folded title="Inside the rail" paths={["end.slot_mm", "end.slot_deep_mm"]}>
          <Fields>
            <NumberField path="end.slot_mm" />
            <NumberField path="end.slot_deep_mm" />
          </Fields>
        </Folded>
      )}
      <ListOf
        list="end.near"
        add="Add a thing near the belt"
        wrapped
        fresh={(n) => ({ label: n ? "Thing" : "Wheel" })}
        foot={
          <span className="small quiet">
            Rail, wheels, brackets, screw heads: give their place and size in the drawing, and the least air
            beside both runs is worked out over the travel.
          </span>
        }
      >
        {(at) => (
          <>
            <TextField path={`${at}.label`} />
            <NumberField path={`${at}.x_mm`} />
            <NumberField path={`${at}.y_mm`} />
            <NumberField path={`${at}.width_mm`} />
            <NumberField path={`${at}.height_mm`} />
            <TickField path={`${at}.rides`} />
          </>
        )}
      </ListOf>
    </Part>
  );
}
