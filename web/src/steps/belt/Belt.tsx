/** Path, length to cut, tension, tensioner, mounts, clamp and fits. */
import type { Loop } from "../../api/client";
import { useNumbers, usePick, useView } from "../../design/context";
import { SceneDrawing, WheelDetail } from "../../drawing/SceneDrawing";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { Cautions } from "../Cautions";
import { EndEditor } from "../drive/editors";
import { PartForm } from "../PartForm";
import { TensionerRuler } from "./TensionerRuler";

export default function Belt() {
  const { report } = useNumbers();
  const open = usePick((v) => "tensioner" in v.design.end);
  const mounts = usePick((v) => ["motor_mount", "idler_mount"].filter((m) => m in v.design.end).join(" "));
  return (
    <>
      {report?.scene && <section className="sheet" style={{ padding: "8px 12px 9px" }}><SceneDrawing scene={report.scene} tallest={260} /></section>}
      <div className="cols">
        <Cut />
        {open ? <Tension /> : <section className="sheet"><h2>Tension</h2><p className="quiet">The end of this chain has no open belt. Closed belts of its stages are below.</p></section>}
      </div>
      {open && (
        <>
          <Tensioner />
          <EndEditor at="end.belt" label="Belt" />
          <EndEditor at="end.idler" label="Idler" />
          <div className="cols">
            <section className="sheet"><h2>Drive pulley <span className="quiet">enlarged; fillets left out</span></h2>{report?.scene && <WheelDetail scene={report.scene} />}</section>
            <section className="sheet">
              <h2>Where things stand</h2>
              <PartForm path="end" nested={false} />
              <div className="figs" style={{ marginTop: 12 }}><Figure of="loop.centre" digits={6} /><Figure of="pulley.wrap" /><Figure of="belt.free" digits={6} /></div>
            </section>
          </div>
          <section className="sheet"><h2>Belt ends</h2><PartForm path="end.clamp" /></section>
          {mounts && <div className="cols">{mounts.split(" ").map((m) => <MountEditor key={m} at={m as "motor_mount"} title={m === "motor_mount" ? "Motor mount" : "Idler mount"} />)}</div>}
        </>
      )}
      {report?.stage_scenes.map((s, i) => <section className="sheet" key={i} style={{ padding: "8px 12px 9px" }}><SceneDrawing scene={s} tallest={200} /></section>)}
      <ClosedBelts />
      {!open && <section className="sheet"><h2>The end of the chain</h2><PartForm path="end" /></section>}
      <Cautions step="belt" />
    </>
  );
}

function ClosedBelts() {
  const places = usePick((v) => v.design.chain.map((s, i) => ((s as { kind?: string }).kind === "closed_belt" ? `chain.${i}` : "")).filter(Boolean).join(" "));
  if (!places) return null;
  return places.split(" ").map((at) => (
    <section className="sheet" key={at}>
      <h2>Closed belt <span className="quiet">stock belts come in whole teeth; the centre distance follows</span></h2>
      <div className="figs" style={{ marginBottom: 10 }}><Figure of={`${at}.centre`} digits={6} /><Figure of={`${at}.length`} digits={6} /><Figure of={`${at}.tension`} label="Tension to set" /><Figure of={`${at}.pluck`} label="Its span sounds at" /><Figure of={`${at}.span`} label="Free span" digits={4} /><Figure of={`${at}.mesh`} label="Teeth in mesh" /></div>
      <PartForm path={at} />
    </section>
  ));
}

function Cut() {
  const { report, show } = useNumbers();
  return (
    <section className="sheet">
      <h2>To cut or to buy</h2>
      <div className="figs"><Figure of="belt.cut" digits={6} /><Figure of="belt.cut_teeth" digits={6} /><Figure of="belt.stretch" label="Stretch at tension" /></div>
      {report?.cut.map((c) => (
        <p className="small" style={{ marginTop: 8 }} key={c.what}>{c.what}: <b className="num">{show(c.length_mm, "mm", 6).both}</b>{c.teeth > 0 && <>, <b className="num">{c.teeth}</b> teeth</>}; {c.note}.</p>
      ))}
      {(report?.cut.length ?? 0) === 0 && <p className="quiet">Nothing on this axis is cut or bought by length.</p>}
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
