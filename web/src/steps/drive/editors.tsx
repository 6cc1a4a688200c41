/** Fields of the part chosen on the drive line. */
import type { Report } from "../../api/client";
import { useBench, useMost, usePick, useView } from "../../design/context";
import { kindsAt, type Schema } from "../../design/fields";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { PartForm } from "../PartForm";
import { PartPicker } from "../PartPicker";
import { Results } from "../Results";

type Node = Report["drive_line"][number];

const said = (kind: string) => kind.replaceAll("_", " ");

export function PartEditor({ node }: { node: Node }) {
  if (node.at === "chain.0") return <MotorEditor />;
  if (node.at.startsWith("chain.")) return <StageEditor node={node} />;
  if (node.at === "moving") {
    return (
      <section className="sheet">
        <h2>{node.label}</h2>
        <div className="figs">
          <Figure of="mass.total" />
          <Figure of="force.accelerate" />
          <Figure of="force.drag" />
          <Figure of="belt.peak_force" />
        </div>
        <p className="small quiet" style={{ marginTop: 8 }}>
          What moves is tallied in Aim; how much it gives is in Shake.
        </p>
      </section>
    );
  }
  return <EndEditor node={node} />;
}

/** A piece of the chain's end: pulley, belt, idler, or the end as a whole. */
function EndEditor({ node: { at, label, shows } }: { node: Node }) {
  const profile = usePick((v) => (getAt(v.design, "end.belt.profile") as string | undefined) ?? "");
  const whole = at === "end";
  return (
    <section className="sheet">
      <h2>
        {label}
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker path={at} />
        </span>
      </h2>
      <PartForm path={at} nested={!whole || profile === ""} />
      <Results of={shows} />
    </section>
  );
}

function AddStage() {
  const { session, start } = useBench();
  const chain = usePick((v) => v.design.chain);
  const kinds = kindsAt(start.design_schema as unknown as Schema, "chain");
  const most = useMost("chain");
  if (chain.length >= most) return null;
  return (
    <select
      className="act tight"
      aria-label="Add a stage"
      value=""
      onChange={(e) => session.set("chain", [...chain, { kind: e.target.value, label: "" }])}
    >
      <option value="" disabled>
        Add a stage…
      </option>
      {kinds.map((k) => (
        <option key={k} value={k}>
          {said(k)}
        </option>
      ))}
    </select>
  );
}

function MotorEditor() {
  const { session, start } = useBench();
  const { design } = useView();
  const motor = design.chain[0] as { kind: string };
  const driven = "driver" in motor;
  const kinds = kindsAt(start.design_schema as unknown as Schema, "chain", "motor");
  return (
    <section className="sheet">
      <h2>
        {driven ? "Motor and driver" : "Motor"}
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker path="chain.0" />
          {driven && <PartPicker path="chain.0.driver" />}
          <select
            className="act tight"
            aria-label="Kind of motor"
            value={motor.kind}
            onChange={(e) => session.set("chain.0", { kind: e.target.value })}
          >
            {kinds.map((k) => (
              <option key={k} value={k}>
                {said(k)}
              </option>
            ))}
          </select>
          <AddStage />
        </span>
      </h2>
      {driven && <h3>Driver and supply</h3>}
      {driven && <PartForm path="chain.0.driver" />}
      {driven && <h3 style={{ marginTop: 12 }}>Motor, as its label says</h3>}
      <PartForm path="chain.0" without={["driver"]} />
      <div className="figs" style={{ marginTop: 12 }}>
        <Figure of="motor.pull_out_top" />
        <Figure of="motor.pull_out_push" />
        <Figure of="chain.0.torque_accelerate" label="Asked, accelerating" />
        <Figure of="motor.reach" />
        <Figure of="steps_per_mm" digits={6} />
        <Figure of="motor.microstep_torque" />
        <Figure of="motor.generated" label="Pushed by hand it generates" />
      </div>
    </section>
  );
}

function StageEditor({ node: { at, label, shows } }: { node: Node }) {
  const { session } = useBench();
  const { design } = useView();
  const index = Number(at.split(".")[1]);
  return (
    <section className="sheet">
      <h2>
        {label}
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker path={at} />
          <button
            className="act tight"
            onClick={() =>
              session.set(
                "chain",
                design.chain.filter((_, i) => i !== index),
              )
            }
          >
            Take it out
          </button>
          <AddStage />
        </span>
      </h2>
      <PartForm path={at} />
      <Results of={shows} most={14} />
    </section>
  );
}
