/** How a wide gantry is driven, and which axes ride on which. */
import { ask, type Axis } from "../../api/client";
import { useAxis, useChange } from "../../api/queries";
import { useBench, usePick, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { TextField } from "../../fields/OtherFields";
import { number } from "../../units/format";
import { PartForm } from "../PartForm";

export function Gantry() {
  const kind = usePick((v) => v.design.sides?.kind ?? "one");
  const straight = usePick((v) => v.report?.straight ?? true);
  if (!straight && kind === "one") return null;
  return (
    <section className="sheet">
      <h2>
        Sides <span className="quiet">how a wide gantry is driven</span>
      </h2>
      <PartForm path="sides" />
      <div className="figs" style={{ marginTop: kind === "one" ? 0 : 12 }}>
        <Figure of="sides.twist" />
        <Figure of="sides.yaw_mm" />
        <Figure of="sides.jam" />
        <Figure of="sides.share" />
      </div>
    </section>
  );
}

/** On which axis this one rides, and what rides on it. */
export function Riding() {
  const { session } = useBench();
  const { design, id } = useView();
  const axis = useAxis(id);
  const ride = useChange(
    (on: string | null) => ask<Axis>(`/axes/${id}/rides`, { method: "PUT", body: { on } }),
    "axis",
    "shelf",
  );
  const riding = design.riding ?? [];
  const still = design.still ?? [];
  if (
    !axis.data ||
    (axis.data.may_ride_on.length === 0 && riding.length === 0 && axis.data.rides_on === null)
  )
    return null;
  const known = axis.data.may_ride_on.some((n) => n.id === axis.data.rides_on);
  return (
    <section className="sheet">
      <h2>
        Axes on axes <span className="quiet">all that an axis carries is the load of the one beneath</span>
      </h2>
      <div className="fields" style={{ gridTemplateColumns: "220px minmax(0, 1fr)" }}>
        <div className="field">
          <label className="name" htmlFor="rides-on">
            This axis rides on
          </label>
          <div className="box">
            <select
              id="rides-on"
              value={axis.data.rides_on ?? ""}
              onChange={(e) =>
                ride.mutate(e.target.value || null, { onSuccess: (answer) => session.recount(answer) })
              }
            >
              <option value="">the ground</option>
              {axis.data.rides_on !== null && !known && (
                <option value={axis.data.rides_on}>an axis that rides on this one</option>
              )}
              {axis.data.may_ride_on.map((n) => (
                <option key={n.id} value={n.id}>
                  {n.name}
                </option>
              ))}
            </select>
          </div>
          {ride.error && <div className="under signal">{ride.error.message}</div>}
        </div>
        <div>
          {riding.length > 0 && (
            <>
              <h3>Rides on it</h3>
              {riding.map((m) => (
                <p key={m.label}>
                  {m.label}{" "}
                  <b className="num">
                    {(m.quantity ?? 1) > 1 && `${m.quantity} × `}
                    {number(m.mass_kg)} kg
                  </b>
                </p>
              ))}
            </>
          )}
          <h3 style={{ marginTop: riding.length > 0 ? 8 : 0 }}>
            Stands still on it, yet rides along with it{" "}
            <button
              className="plain small"
              onClick={() => session.set("still", [...still, { label: "Rail", mass_kg: 0.5, quantity: 1 }])}
            >
              add a line
            </button>
          </h3>
          {still.map((_, i) => (
            <div
              key={i}
              className="fields"
              style={{ gridTemplateColumns: "minmax(0, 1fr) 120px auto", alignItems: "end" }}
            >
              <TextField path={`still.${i}.label`} label="What" />
              <NumberField path={`still.${i}.mass_kg`} />
              <button
                className="plain small"
                onClick={() =>
                  session.set(
                    "still",
                    still.filter((__, j) => j !== i),
                  )
                }
              >
                Remove
              </button>
            </div>
          ))}
        </div>
      </div>
    </section>
  );
}
