/** How a wide gantry is driven, and which axes ride on which. */
import { act, type Axis } from "../../api/client";
import { useAxis, useChange } from "../../api/queries";
import { useBench, usePick, useShow, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { ListOf } from "../../fields/ListOf";
import { NumberField } from "../../fields/NumberField";
import { TextField } from "../../fields/OtherFields";
import { Fetched } from "../../kit/Fetched";
import { Pick } from "../../kit/inputs";
import { Cols, Figs, Fold, Sheet } from "../../kit/sheets";
import { PartForm } from "../PartForm";

export function Gantry() {
  const kind = usePick((v) => v.design.sides?.kind ?? "one");
  const straight = usePick((v) => v.report?.straight ?? true);
  if (!straight && kind === "one") return null;
  return (
    <Sheet title="Sides" note="how a wide gantry is driven">
      <PartForm path="sides" />
      <Figs>
        <Figure of="sides.twist" />
        <Figure of="sides.yaw_mm" />
        <Figure of="sides.jam" />
        <Figure of="sides.pull" />
        <Figure of="sides.share" />
      </Figs>
    </Sheet>
  );
}

/** On which axis this one rides, and what rides on it. */
export function Riding() {
  const { id } = useView();
  const axis = useAxis(id);
  return (
    <Fetched of={axis} what="which axes ride on which" waiting={null}>
      {(found) => <Ridden axis={found} />}
    </Fetched>
  );
}

function Ridden({ axis }: { axis: Axis }) {
  const { session } = useBench();
  const { design, id } = useView();
  const show = useShow();
  const ride = useChange(
    (on: string | null) => act<Axis>(`/axes/${id}/rides`, { method: "PUT", body: { on } }),
    "axis",
    "shelf",
  );
  const riding = design.riding ?? [];
  const still = design.still ?? [];
  const { may_ride_on: others, rides_on: on } = axis;
  if (others.length === 0 && riding.length === 0 && on === null) return null;
  const known = others.some((n) => n.id === on);
  const kg = (mass: number) => show(mass, "kg").said;
  return (
    <Sheet title="Axes on axes" note="all that an axis carries is the load of the one beneath">
      <Cols as="second" tight>
        <Pick
          label="This axis rides on"
          value={on ?? ""}
          options={[
            { value: "", label: "the ground" },
            ...(on !== null && !known ? [{ value: on, label: "an axis that rides on this one" }] : []),
            ...others.map((n) => ({ value: n.id, label: n.name })),
          ]}
          onValue={(to) => ride.mutate(to || null, { onSuccess: (answer) => session.recount(answer) })}
        />
        <div>
          {riding.length > 0 && <h3>Rides on it</h3>}
          {riding.map((m) => (
            <p key={m.label}>
              {m.label}{" "}
              <b className="num">
                {(m.quantity ?? 1) > 1 && `${m.quantity} × `}
                {kg(m.mass_kg ?? 0)}
              </b>
            </p>
          ))}
          <Fold
            title="Stands still on it, yet rides along with it"
            open={still.length > 0}
            says={still.length > 0 ? `${still.length} lines` : "nothing"}
          >
            <ListOf
              list="still"
              add="Add a line"
              fresh={() => ({ label: "Rail", mass_kg: 0.5, quantity: 1 })}
            >
              {(at) => (
                <>
                  <TextField path={`${at}.label`} label="What" />
                  <NumberField path={`${at}.mass_kg`} />
                </>
              )}
            </ListOf>
          </Fold>
        </div>
      </Cols>
    </Sheet>
  );
}
