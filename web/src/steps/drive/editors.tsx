/** Fields of the part chosen on the drive line. */
import type { DrawerRow, Loop } from "../../api/client";
import { useBench, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField, TickField } from "../../fields/OtherFields";
import { PartPicker } from "../PartPicker";

export function PartEditor({ part }: { part: string }) {
  if (part === "field") return <MotorEditor />;
  if (part.startsWith("chain.")) return <GearboxEditor at={part} />;
  if (part === "pulley") return <PulleyEditor />;
  if (part === "belt") return <BeltEditor />;
  if (part === "idler_mount") return <IdlerEditor />;
  return (
    <section className="sheet">
      <h2>Carriage</h2>
      <div className="figs"><Figure of="mass.total" /><Figure of="force.accelerate" /><Figure of="force.drag" /><Figure of="belt.peak_force" /></div>
      <p className="small quiet" style={{ marginTop: 8 }}>What moves is tallied in Aim; how much it gives is in Shake.</p>
    </section>
  );
}

function Bought({ at }: { at: string }) {
  return (
    <>
      <TextField path={`${at}.label`} />
      <NumberField path={`${at}.price`} />
      <TickField path={`${at}.in_stock`} />
    </>
  );
}

function MotorEditor() {
  const { session } = useBench();
  const { design } = useView();
  const direct = design.chain.length === 1;
  return (
    <section className="sheet">
      <h2>
        Motor and driver
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker kind="stepper" path="chain.0" label="Motor from the drawer" />
          <PartPicker kind="supply" path="chain.0.driver" label="Supply" dataOnly />
          {direct && <button className="act tight" onClick={() => session.set("chain", [...design.chain, { kind: "gearbox", ratio: 5, label: "" }])}>Add a gearbox</button>}
        </span>
      </h2>
      <div className="fields">
        <NumberField path="chain.0.driver.supply_v" sizes={[12, 24, 36, 48, 60]} />
        <NumberField path="chain.0.driver.current_a" />
        <ChoiceField path="chain.0.driver.current_is" />
        <NumberField path="chain.0.driver.microsteps" sizes={[1, 2, 4, 8, 16, 32, 64, 128, 256]} />
        <NumberField path="chain.0.hold_torque_nm" />
        <NumberField path="chain.0.rated_current_a" />
        <NumberField path="chain.0.resistance_ohm" />
        <NumberField path="chain.0.inductance_mh" />
        <NumberField path="chain.0.rotor_inertia_gcm2" />
        <NumberField path="chain.0.detent_torque_nm" />
        <ChoiceField path="chain.0.frame" label="Frame" />
        <ChoiceField path="chain.0.winding" label="Winding connected" />
        <NumberField path="chain.0.driver.idle_percent" />
        <NumberField path="chain.0.driver.step_rate_limit_hz" />
        <NumberField path="chain.0.steps_per_turn" sizes={[200, 400]} />
        <NumberField path="chain.0.shaft_mm" sizes={[4, 5, 6.35, 8, 12.7, 14]} />
        <ChoiceField path="chain.0.shaft_form" label="Shaft form" />
        <NumberField path="chain.0.radial_limit_n" />
        <Bought at="chain.0" />
        <NumberField path="chain.0.driver.price" label="Price of driver and supply" />
      </div>
      <div className="figs" style={{ marginTop: 12 }}>
        <Figure of="motor.pull_out_top" /><Figure of="chain.0.torque_accelerate" label="Asked, accelerating" /><Figure of="motor.reach" /><Figure of="steps_per_mm" digits={6} /><Figure of="motor.microstep_torque" /><Figure of="motor.generated" label="Pushed by hand it generates" />
      </div>
    </section>
  );
}

function GearboxEditor({ at }: { at: string }) {
  const { session } = useBench();
  const { design } = useView();
  const index = Number(at.split(".")[1]);
  return (
    <section className="sheet">
      <h2>
        Gearbox
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker kind="gearbox" path={at} label="Gearbox from the drawer" />
          <button className="act tight" onClick={() => session.set("chain", design.chain.filter((_, i) => i !== index))}>Take it out</button>
        </span>
      </h2>
      <div className="fields">
        {["ratio", "efficiency", "backlash_arcmin", "stiffness_nm_rad", "inertia_gcm2", "torque_limit_nm", "speed_limit_rpm", "shaft_mm", "radial_limit_n"].map((f) => <NumberField key={f} path={`${at}.${f}`} sizes={f === "ratio" ? [3, 4, 5, 10, 20] : undefined} />)}
        <ChoiceField path={`${at}.shaft_form`} label="Shaft form" />
        <Bought at={at} />
      </div>
      <div className="figs" style={{ marginTop: 12 }}><Figure of={`${at}.backlash`} /><Figure of={`${at}.torque_accelerate`} /><Figure of="efficiency" /></div>
    </section>
  );
}

function PulleyEditor() {
  const { design } = useView();
  const profile = (design.end as Loop).belt.profile;
  return (
    <section className="sheet">
      <h2>Drive pulley <span style={{ marginLeft: "auto" }}><PartPicker kind="pulley" path="end.pulley" label="Pulley from the drawer" fits={(r: DrawerRow) => r.data.profile === profile} /></span></h2>
      <div className="fields">
        <NumberField path="end.pulley.teeth" />
        <NumberField path="end.pulley.bore_mm" sizes={[4, 5, 6.35, 8, 10, 12.7, 14]} />
        <NumberField path="end.pulley.hub_mm" />
        <NumberField path="end.pulley.face_mm" />
        <NumberField path="end.pulley.overhang_mm" />
        <ChoiceField path="end.pulley.fixing.kind" />
        <NumberField path="end.pulley.fixing.screw_mm" sizes={[3, 4, 5, 6]} />
        <NumberField path="end.pulley.fixing.screws" />
        <NumberField path="end.pulley.fixing.grip_nm" />
        <NumberField path="end.pulley.density_g_cm3" />
        <Bought at="end.pulley" />
      </div>
      <div className="figs" style={{ marginTop: 12 }}><Figure of="pulley.pitch_diameter" digits={5} /><Figure of="pulley.outside_diameter" digits={5} /><Figure of="pulley.mesh" /><Figure of="hub.torque" /><Figure of="hub.fit" /><Figure of="pulley.shaft_load" /></div>
    </section>
  );
}

export function BeltEditor() {
  const { start } = useBench();
  const { design } = useView();
  const belt = (design.end as Loop).belt;
  const profile = start.profiles.find((p) => p.key === belt.profile);
  return (
    <section className="sheet">
      <h2>Belt <span className="quiet">{profile?.standard}</span> <span style={{ marginLeft: "auto" }}><PartPicker kind="belt" path="end.belt" label="Belt from the drawer" /></span></h2>
      <div className="fields">
        <ChoiceField path="end.belt.profile" options={start.profiles.map((p) => ({ value: p.key, label: `${p.name}, pitch ${p.pitch_mm} mm` }))} />
        <NumberField path="end.belt.width_mm" sizes={profile?.widths_mm} />
        <ChoiceField path="end.belt.cord" />
        <NumberField path="end.belt.ea_n" />
        <NumberField path="end.belt.line_mass_g_m" />
        <NumberField path="end.belt.working_tension_n" />
        <TextField path="end.belt.label" />
        <NumberField path="end.belt.price_per_m" />
        <TickField path="end.belt.in_stock" />
      </div>
      <div className="figs" style={{ marginTop: 12 }}><Figure of="belt.peak_force" /><Figure of="belt.pull_capacity" /><Figure of="belt.peak_tension" /><Figure of="cord.capacity" /><Figure of="belt.ea" /><Figure of="belt.tooth_frequency" /></div>
    </section>
  );
}

export function IdlerEditor() {
  const { design } = useView();
  const end = design.end as Loop;
  return (
    <section className="sheet">
      <h2>Idler <span style={{ marginLeft: "auto" }}><PartPicker kind="idler" path="end.idler" label="Idler from the drawer" fits={(r: DrawerRow) => r.data.kind === "smooth" || r.data.profile === end.belt.profile} /></span></h2>
      <div className="fields">
        <ChoiceField path="end.idler.kind" />
        {end.idler.kind === "toothed" ? <NumberField path="end.idler.teeth" /> : <NumberField path="end.idler.diameter_mm" />}
        <NumberField path="end.idler.width_mm" />
        <Bought at="end.idler" />
      </div>
      <div className="figs" style={{ marginTop: 12 }}><Figure of="idler.radius" digits={5} /><Figure of="idler.shaft_load" /><Figure of="idler.mass" /></div>
    </section>
  );
}
