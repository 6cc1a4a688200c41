/** What the axis is for: layout, travel, moving mass, speed, forces, guide, money, assumptions. */
import { usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { Folded } from "../../fields/Folded";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { Cols, Fields, Figs, Fold, Sheet } from "../../kit/sheets";
import { Cautions } from "../Cautions";
import { PartForm } from "../PartForm";
import { SpindleAim, useSpindle } from "../Cones";
import { Gantry, Riding } from "./Across";
import { Layout } from "./Layout";
import { Heads, Tally } from "./Masses";
import { Propose } from "./Propose";
import { FreeTravel, Travel } from "./Travel";

const PUSHING = ["aim.push_speed_mm_s", "aim.hold_n"];
const UNPOWERED = ["aim.counterweight_kg", "aim.brake_n"];
const GUIDE = ["guide.friction", "guide.drag_n"];

export default function Aim() {
  const guided = usePick((v) => v.report?.guided ?? true);
  const spindle = useSpindle();
  return (
    <>
      <Cols>
        <Sheet title="What it is for">
          <Fields as="stack">
            <TextField path="name" />
            <TextField path="aim.purpose" />
          </Fields>
        </Sheet>
        <Layout />
      </Cols>
      {spindle ? <SpindleAim /> : guided ? <Travel /> : <FreeTravel />}
      {!spindle && <Motion />}
      {!spindle && (
        <>
          <Tally />
          <Gantry />
          <Heads />
        </>
      )}
      <Cols>
        {guided ? (
          <Sheet title="Guide">
            <Fields>
              <ChoiceField path="guide.kind" />
            </Fields>
            <Folded title="What it holds back" paths={GUIDE}>
              <Fields>
                <NumberField path="guide.friction" />
                <NumberField path="guide.drag_n" />
              </Fields>
            </Folded>
            <Figs>
              <Figure of="guide.friction_by_kind" label="Friction counted on, by its kind" />
            </Figs>
          </Sheet>
        ) : (
          <Sheet
            title="Drag"
            note={
              spindle
                ? "bearings and seals, felt at the rim"
                : "bearings, lead pulleys, seals; the end's own drag stands in Drive"
            }
          >
            <Fields>
              <NumberField path={spindle ? "end.drag_n" : "guide.drag_n"} />
            </Fields>
          </Sheet>
        )}
        <Sheet title="Money">
          <Fields>
            <NumberField path="aim.budget" />
          </Fields>
          <Folded title="Counted in" paths={["aim.currency", "aim.price_factor"]}>
            <TextField path="aim.currency" />
            <NumberField path="aim.price_factor" />
          </Folded>
        </Sheet>
      </Cols>
      <Propose />
      <Riding />
      <Cautions step="aim" />
      {guided && (
        <Fold
          sheet
          title="Wheels, rail and stand"
          says="only what is filled in is checked: load limit of a wheel, rail between its supports, a stand that could tip"
        >
          <PartForm path="stand" />
        </Fold>
      )}
      <Fold
        sheet
        title="Assumptions in force"
        says="efficiencies, damping, margins: each says where it comes from, and everything follows a change"
      >
        <PartForm path="assumptions" />
      </Fold>
    </>
  );
}

/** How a point moves along its travel, and against what. */
function Motion() {
  const slopes = usePick((v) => v.report?.sloped ?? true);
  return (
    <Cols>
      <Sheet title="How fast, how fine">
        <Fields>
          <NumberField path="aim.speed_mm_s" />
          <NumberField path="aim.acceleration_mm_s2" />
          <NumberField path="aim.resolution_mm" />
          <NumberField path="aim.error_mm" />
        </Fields>
        <Folded title="Short strokes, to and fro" paths={["aim.stroke_mm"]}>
          <Fields>
            <NumberField path="aim.stroke_mm" />
          </Fields>
          <Figs>
            <Figure of="ringing.factor" label="Peak over a steady push" />
            <Figure of="ringing.worst" label="On the worst stroke of all" />
          </Figs>
        </Folded>
        <Figs>
          <Figure of="travel.time" label="Whole travel takes" />
          <Figure of="travel.stop" label="Stops from top speed in" />
        </Figs>
      </Sheet>
      <Sheet title="Against what">
        <Fields>
          <NumberField path="aim.push_n" />
          {slopes && <NumberField path="aim.slope_deg" />}
        </Fields>
        <Folded title="While pushing, and standing" paths={PUSHING}>
          <Fields>
            <NumberField path="aim.push_speed_mm_s" />
            <NumberField path="aim.hold_n" />
          </Fields>
        </Folded>
        <Folded title="What holds it without power" paths={UNPOWERED}>
          <Fields>
            <NumberField path="aim.counterweight_kg" />
            <NumberField path="aim.brake_n" />
            <NumberField path="aim.brake.price" label="Price of the brake" />
          </Fields>
          <Figs>
            <Figure of="unpowered.capacity" label="The axis resists by itself" />
            <Figure of="brake.torque" label="Brake on the motor's shaft" />
          </Figs>
        </Folded>
        <Figs>
          <Figure of="force.accelerate" label="To accelerate" />
          <Figure of="force.cruise" label="To keep moving" />
        </Figs>
      </Sheet>
    </Cols>
  );
}
