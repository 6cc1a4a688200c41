/** Fields of the part chosen on the drive line. */
import type { Report } from "../../api/client";
import { useBench, useMost, usePick } from "../../design/context";
import { inserted, moved, without } from "../../design/rows";
import { kindsAt } from "../../design/fields";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { EndForm } from "../Cones";
import { PartForm } from "../PartForm";
import { PartPicker } from "../PartPicker";
import { Results } from "../Results";
import { WhichBelt } from "../../drawer/WhichBelt";
import { Act } from "../../kit/Act";
import { Choices, type Choice } from "../../kit/Choices";
import { Pick } from "../../kit/inputs";
import { Figs, Part, Sheet } from "../../kit/sheets";

type Node = Report["drive_line"][number];

const said = (kind: string) => kind.replaceAll("_", " ");

interface Props {
  node: Node;
  /** Shows another part of the line. */
  choose: (part: string) => void;
}

export function PartEditor({ node, choose }: Props) {
  if (node.at === "chain.0") return <MotorEditor choose={choose} />;
  if (node.at.startsWith("chain.")) return <StageEditor node={node} choose={choose} />;
  if (node.at === "moving") {
    return (
      <Sheet title={node.label}>
        <Figs>
          <Figure of="mass.total" />
          <Figure of="force.accelerate" />
          <Figure of="force.drag" />
          <Figure of="belt.peak_force" />
        </Figs>
        <p className="small quiet">What moves is tallied in Aim; how much it gives is in Shake.</p>
      </Sheet>
    );
  }
  return <EndEditor node={node} choose={choose} />;
}

/** A piece of the chain's end: pulley, belt, idler, or the end as a whole. */
function EndEditor({ node: { at, label, shows }, choose }: Props) {
  const { session } = useBench();
  const profile = usePick((v) => (getAt(v.design, "end.belt.profile") as string | undefined) ?? "");
  const length = usePick((v) => v.design.chain.length);
  const whole = at === "end";
  return (
    <Sheet
      title={label}
      aside={
        <>
          <PartPicker path={at} />
          {at === "end.belt" && <WhichBelt take={(key) => session.set("end.belt.profile", key)} />}
          <AddStage before={length} choose={choose} />
        </>
      }
    >
      {whole ? <EndForm nested={profile === ""} /> : <PartForm path={at} />}
      <Results of={shows} />
    </Sheet>
  );
}

/** Puts a stage into the chain, before or after the one at hand. */
function AddStage({ before, after, choose }: { before?: number; after?: number; choose: Props["choose"] }) {
  const { session, start } = useBench();
  const count = usePick((v) => v.design.chain.length);
  const most = useMost("chain");
  if (count >= most) return null;
  const kinds = kindsAt(start.design_schema, "chain");
  const group = (place: number | undefined, name: string): Choice[] =>
    place === undefined ? [] : kinds.map((k) => ({ key: `${place} ${k}`, says: said(k), group: name }));
  return (
    <Choices
      label="Add a stage…"
      choices={[...group(before, "before this one"), ...group(after, "after this one")]}
      choose={(key) => {
        const [place = "", kind] = key.split(" ");
        session.setRows(inserted(session.get().design, "chain", Number(place), { kind, label: "" }));
        choose(`chain.${place}`);
      }}
    />
  );
}

function MotorEditor({ choose }: { choose: Props["choose"] }) {
  const { session, start } = useBench();
  const kind = usePick((v) => (v.design.chain[0] as { kind: string }).kind);
  const driven = usePick((v) => "driver" in (v.design.chain[0] as object));
  const kinds = kindsAt(start.design_schema, "chain", "motor");
  return (
    <Sheet
      title={driven ? "Motor and driver" : "Motor"}
      aside={
        <>
          <PartPicker path="chain.0" />
          {driven && <PartPicker path="chain.0.driver" />}
          <Pick
            bare
            label="Kind of motor"
            value={kind}
            options={kinds.map((k) => ({ value: k, label: said(k) }))}
            onValue={(next) => session.setAll({ "chain.0": { kind: next } }, "", [])}
          />
          <AddStage after={1} choose={choose} />
        </>
      }
    >
      {driven && (
        <Part title="Driver and supply">
          <PartForm path="chain.0.driver" />
        </Part>
      )}
      <Part title="As its label says">
        <PartForm path="chain.0" without={["driver"]} />
      </Part>
      <Figs>
        <Figure of="motor.pull_out_top" />
        <Figure of="motor.pull_out_push" />
        <Figure of="chain.0.torque_accelerate" label="Asked, accelerating" />
        <Figure of="motor.reach" />
        <Figure of="steps_per_mm" digits={6} />
        <Figure of="motor.microstep_torque" />
        <Figure of="motor.generated" label="Pushed by hand it generates" />
        <Figure of="motor.heat" label="Heat, moving slowly" />
        <Figure of="motor.heat_standing" label="Heat, standing" />
        <Figure of="driver.heat" label="Heat of the driver" />
        <Figure of="supply.current" label="Drawn from the supply" />
        <Figure of="supply.fed_back" label="Fed back by a stop" />
        <Figure of="motor.inertia_ratio" label="Load to rotor" />
      </Figs>
    </Sheet>
  );
}

function StageEditor({ node: { at, label, shows }, choose }: Props) {
  const { session } = useBench();
  const count = usePick((v) => v.design.chain.length);
  const index = Number(at.split(".")[1]);
  const move = (to: number) => {
    session.setRows(moved(session.get().design, "chain", index, to));
    choose(`chain.${to}`);
  };
  const drop = () => {
    session.setRows(without(session.get().design, "chain", index));
    choose("");
  };
  return (
    <Sheet
      title={label}
      aside={
        <>
          <PartPicker path={at} />
          <Act disabled={index <= 1} onClick={() => move(index - 1)}>
            Towards the motor
          </Act>
          <Act disabled={index >= count - 1} onClick={() => move(index + 1)}>
            Towards the end
          </Act>
          <Act onClick={drop}>Take it out</Act>
          <AddStage before={index} after={index + 1} choose={choose} />
        </>
      }
    >
      <PartForm path={at} />
      <Results of={shows} most={14} />
    </Sheet>
  );
}
