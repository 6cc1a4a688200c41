/** What the axis is for: layout, travel, moving mass, speed, forces, guide, money, assumptions. */
import { usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { Cautions } from "../Cautions";
import { PartForm } from "../PartForm";
import { Layout } from "./Layout";
import { Travel, FreeTravel } from "./Travel";
import { Tally, Heads } from "./Masses";
import { Gantry, Riding } from "./Across";

export default function Aim() {
  const guided = usePick((v) => v.report?.guided ?? true);
  const slopes = usePick((v) => v.report?.sloped ?? true);
  return (
    <>
      <div className="cols">
        <section className="sheet">
          <h2>What it is for</h2>
          <div className="fields" style={{ gridTemplateColumns: "1fr" }}>
            <TextField path="name" />
            <TextField path="aim.purpose" />
          </div>
        </section>
        <section className="sheet">
          <Layout />
        </section>
      </div>
      {guided ? <Travel /> : <FreeTravel />}
      <div className="cols">
        <section className="sheet">
          <h2>How fast, how fine</h2>
          <div className="fields">
            <NumberField path="aim.speed_mm_s" />
            <NumberField path="aim.acceleration_mm_s2" />
            <NumberField path="aim.resolution_mm" />
            <NumberField path="aim.error_mm" />
          </div>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="travel.time" label="Whole travel takes" />
            <Figure of="travel.stop" label="Stops from top speed in" />
          </div>
        </section>
        <section className="sheet">
          <h2>Against what</h2>
          <div className="fields">
            <NumberField path="aim.push_n" />
            <NumberField path="aim.push_speed_mm_s" />
            <NumberField path="aim.hold_n" />
            {slopes && <NumberField path="aim.slope_deg" />}
          </div>
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="force.accelerate" label="To accelerate" />
            <Figure of="force.cruise" label="To keep moving" />
          </div>
        </section>
      </div>
      <Tally />
      <Gantry />
      <Heads />
      <div className="cols">
        {guided ? (
          <section className="sheet">
            <h2>Guide</h2>
            <div className="fields">
              <ChoiceField path="guide.kind" />
              <NumberField path="guide.friction" />
              <NumberField path="guide.drag_n" />
            </div>
          </section>
        ) : (
          <section className="sheet">
            <h2>Drag</h2>
            <div className="fields">
              <NumberField path="guide.drag_n" />
            </div>
            <p className="small quiet" style={{ marginTop: 6 }}>
              Bearings, lead pulleys, seals; the end's own drag stands in Drive.
            </p>
          </section>
        )}
        <section className="sheet">
          <h2>Money</h2>
          <div className="fields">
            <NumberField path="aim.budget" />
            <TextField path="aim.currency" />
          </div>
        </section>
      </div>
      <Riding />
      <Cautions step="aim" />
      {guided && (
        <details className="sheet">
          <summary>Wheels, rail and stand</summary>
          <PartForm path="stand" />
          <p className="small quiet" style={{ marginTop: 8 }}>
            Only what is filled in is checked: load limit of a wheel, rail between its supports, mass of a
            stand that could tip.
          </p>
        </details>
      )}
      <details className="sheet">
        <summary>Assumptions in force</summary>
        <PartForm path="assumptions" />
        <p className="small quiet" style={{ marginTop: 8 }}>
          Each one says where it comes from when you rest the pointer on it; change any of them and everything
          follows.
        </p>
      </details>
    </>
  );
}
