/** The stepped cones of a spindle: solved from the speeds wanted, or as drawn, and what the work asks at each speed. */
import { useBeltPlan, useBench, usePick } from "../design/context";
import { Figure } from "../frame/Figure";
import { ListOf } from "../fields/ListOf";
import { NumberField } from "../fields/NumberField";
import { ChoiceField } from "../fields/OtherFields";
import { Act } from "../kit/Act";
import { Cols, Fields, Figs, Line, Part, Sheet } from "../kit/sheets";
import { PartForm } from "./PartForm";

/** Fields of the end that stand here or in Aim, not in its own form. */
const STANDS_ELSEWHERE = [
  "cones_from",
  "low_rpm",
  "high_rpm",
  "steps",
  "low_pair",
  "high_pair",
  "round_mm",
  "motor_centre_mm",
  "cone_centre_mm",
  "work_mm",
  "spin_up_s",
  "spin_gcm2",
  "drag_n",
  "motor_line_mm",
  "middle_line_mm",
  "spindle_line_mm",
];

export const useSpindle = () => usePick((v) => "cones_from" in v.design.end);

const useDrawn = () =>
  usePick((v) => (v.design.end as { cones_from?: string }).cones_from === "cones as drawn");

/** The end as a whole; a spindle's cones stand before its other fields. */
export function EndForm({ nested }: { nested?: boolean }) {
  const spindle = useSpindle();
  return (
    <>
      {spindle && <Cones />}
      <PartForm path="end" nested={nested} without={spindle ? STANDS_ELSEWHERE : []} />
    </>
  );
}

function Cones() {
  const drawn = useDrawn();
  return (
    <Part title="Cones">
      <Fields>
        <ChoiceField path="end.cones_from" />
        {!drawn &&
          ["steps", "low_pair", "high_pair", "round_mm", "motor_centre_mm", "cone_centre_mm"].map((name) => (
            <NumberField key={name} path={`end.${name}`} />
          ))}
      </Fields>
      {drawn ? (
        <Cols>
          <Pairs list="end.motor_pairs" title="Motor to middle pulley" of="pair" />
          <Pairs list="end.cone_pairs" title="Middle pulley to spindle" of="step" />
        </Cols>
      ) : (
        <Keep />
      )}
    </Part>
  );
}

function Pairs({ list, title, of }: { list: string; title: string; of: string }) {
  return (
    <Part title={title}>
      <ListOf list={list} add={`Add a ${of}`} least={1} fresh={() => ({ driver_mm: 80, driven_mm: 80 })}>
        {(at, i) => (
          <>
            <NumberField path={`${at}.driver_mm`} label={`Driver, ${of} ${i + 1}`} />
            <NumberField path={`${at}.driven_mm`} label={`Driven, ${of} ${i + 1}`} />
          </>
        )}
      </ListOf>
    </Part>
  );
}

/** Takes the solved diameters over as drawn, once they are turned or bought. */
function Keep() {
  const { session } = useBench();
  const grooved = useBeltPlan().data?.grooved ?? [];
  const rows = (i: number) =>
    (grooved[i]?.turned ?? []).map(([driver_mm, driven_mm]) => ({ driver_mm, driven_mm }));
  const ready = rows(0).length > 0 && rows(1).length > 0;
  return (
    <Line foot>
      <Act
        disabled={!ready}
        onClick={() =>
          session.setAll({
            "end.cones_from": "cones as drawn",
            "end.motor_pairs": rows(0),
            "end.cone_pairs": rows(1),
          })
        }
      >
        Keep these diameters as drawn
      </Act>
    </Line>
  );
}

/** In Aim: how fast the spindle turns, and what the work asks of it. */
export function SpindleAim() {
  const drawn = useDrawn();
  const timed = usePick((v) => (v.design.end as { spin_up_s?: number | null }).spin_up_s != null);
  return (
    <Cols>
      <Sheet
        title="How fast"
        note={drawn ? "the cones as drawn decide it" : "speeds in equal ratios between them"}
      >
        <Fields>
          {!drawn && <NumberField path="end.low_rpm" />}
          {!drawn && <NumberField path="end.high_rpm" />}
          <NumberField path="end.spin_up_s" />
          {!timed && <NumberField path="aim.acceleration_mm_s2" label="Acceleration at the rim" />}
          <NumberField path="end.spin_gcm2" />
        </Fields>
        <Figs>
          <Figure of="spindle.low" label="Slowest that comes out" />
          <Figure of="spindle.high" label="Fastest that comes out" />
        </Figs>
      </Sheet>
      <Sheet
        title="What the work asks"
        note="each line counts for the speed nearest to it; the rim's force for all others"
      >
        <Fields>
          <NumberField path="aim.push_n" label="Force at the rim" />
          <NumberField path="end.work_mm" />
        </Fields>
        <ListOf list="end.cuts" add="Add a speed" fresh={() => ({ rpm: 500, torque_nm: 1 })}>
          {(at, i) => (
            <>
              <NumberField path={`${at}.rpm`} label={`At about, line ${i + 1}`} />
              <NumberField path={`${at}.torque_nm`} label={`Torque, line ${i + 1}`} />
            </>
          )}
        </ListOf>
        <Figs>
          <Figure of="force.accelerate" label="To come up to speed" />
          <Figure of="force.push" label="At work" />
        </Figs>
      </Sheet>
    </Cols>
  );
}
