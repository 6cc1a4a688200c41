/** Path, length to cut, tension, tensioner, mounts, clamp and fits. */
import type { Loop } from "../../api/client";
import { useNumbers, useView } from "../../design/context";
import { BeltDrawing, PulleyDetail } from "../../drawing/BeltDrawing";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { Cautions } from "../Cautions";
import { BeltEditor, IdlerEditor } from "../drive/editors";
import { TensionerRuler } from "./TensionerRuler";

export default function Belt() {
  const { report } = useNumbers();
  return (
    <>
      <section className="sheet" style={{ padding: "8px 12px 9px" }}>{report?.path && <BeltDrawing path={report.path} />}</section>
      <div className="cols">
        <Cut />
        <Tension />
      </div>
      <Tensioner />
      <BeltEditor />
      <IdlerEditor />
      <div className="cols">
        <section className="sheet"><h2>Drive pulley <span className="quiet">enlarged; fillets left out</span></h2>{report?.path && <PulleyDetail path={report.path} />}</section>
        <section className="sheet">
          <h2>Where the pulleys stand</h2>
          <div className="fields">
            <NumberField path="end.motor_offset_mm" />
            <NumberField path="end.idler_offset_mm" />
          </div>
          <div className="figs" style={{ marginTop: 12 }}><Figure of="loop.centre" digits={6} /><Figure of="pulley.wrap" /></div>
        </section>
      </div>
      <section className="sheet">
          <h2>Belt ends</h2>
          <div className="fields">
            <ChoiceField path="end.clamp.kind" />
            <NumberField path="end.clamp.gap_mm" />
            <NumberField path="end.clamp.engaged_teeth" />
            <NumberField path="end.clamp.tail_mm" />
            <NumberField path="end.clamp.price" />
          </div>
      </section>
      <div className="cols">
        <MountEditor at="motor_mount" title="Motor mount" />
        <MountEditor at="idler_mount" title="Idler mount" />
      </div>
      <Cautions step="belt" />
    </>
  );
}

function Cut() {
  const { report, show } = useNumbers();
  return (
    <section className="sheet">
      <h2>Belt to cut</h2>
      {report?.cut.map((c) => {
        const long = show(c.length_mm, "mm", 6);
        return (
          <div key={c.what}>
            <div className="figs"><Figure of="belt.cut" digits={6} /><Figure of="belt.cut_teeth" digits={6} /><Figure of="belt.stretch" label="Stretch at tension" /></div>
            <p className="small" style={{ marginTop: 8 }}>{c.what}: {c.note}.</p>
            <p className="small quiet">Count teeth, then check with a tape: <span className="num">{long.both}</span>.</p>
          </div>
        );
      })}
    </section>
  );
}

function Tension() {
  return (
    <section className="sheet">
      <h2>Tension <span className="quiet">keeps both runs taut over the whole travel, both ways</span></h2>
      <div style={{ display: "grid", gridTemplateColumns: "150px 1fr", gap: 18, alignItems: "start" }}>
        <NumberField path="end.belt.tension_n" placeholder="target" />
        <div className="figs"><Figure of="tension.target" /><Figure of="tension.low" label="Lower end" /><Figure of="tension.high" label="Upper end" /></div>
      </div>
      <div style={{ display: "grid", gridTemplateColumns: "150px 1fr", gap: 18, alignItems: "end", marginTop: 10 }}>
        <NumberField path="end.belt.calibrated_at_n" />
        <Figure of="belt.scale_shift" label="Steps per mm shift by" />
      </div>
    </section>
  );
}

function Tensioner() {
  const { design } = useView();
  const end = design.end as Loop;
  return (
    <section className="sheet">
      <h2>Tensioner <span className="quiet">from belt slipped on to belt tight, run in, and off again</span></h2>
      <TensionerRuler runs={end.tensioner.kind === "movable clamp" ? 1 : 2} />
      <div className="fields" style={{ marginTop: 8 }}>
        <ChoiceField path="end.tensioner.kind" />
        <NumberField path="end.tensioner.travel_mm" />
        <NumberField path="end.tensioner.run_in_mm" />
        <NumberField path="end.tensioner.removal_mm" />
        <NumberField path="end.tensioner.spring_n_mm" />
        <TextField path="end.tensioner.label" />
        <NumberField path="end.tensioner.price" />
      </div>
    </section>
  );
}

function MountEditor({ at, title }: { at: "motor_mount" | "idler_mount"; title: string }) {
  const { design } = useView();
  const mount = (design.end as Loop)[at];
  return (
    <section className="sheet">
      <h2>{title}</h2>
      <div className="fields">
        <ChoiceField path={`end.${at}.kind`} />
        {mount.kind === "plate" && (
          <>
            <ChoiceField path={`end.${at}.material`} />
            <NumberField path={`end.${at}.thickness_mm`} />
            <NumberField path={`end.${at}.width_mm`} />
            <NumberField path={`end.${at}.overhang_mm`} />
          </>
        )}
        {mount.kind === "measured" && <NumberField path={`end.${at}.stiffness_n_mm`} />}
      </div>
      {mount.kind === "plate" && <div className="figs" style={{ marginTop: 12 }}><Figure of={`end.${at}.stiffness`} label="Stiffness" /><Figure of={`${at}.tilt`} label="Tilt under load" /></div>}
    </section>
  );
}
