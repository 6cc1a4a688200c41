/** What can be done today and what to order next; the order of work; the bill; cut list, fits, settings. */
import { useNumbers, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { Bill } from "./Bill";
import { Today, Work } from "./Work";
import { Cols, Fields, Figs, Fold, Num, Sheet, Table } from "../../kit/sheets";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField } from "../../fields/OtherFields";

export default function Build() {
  return (
    <>
      <Today />
      <Work />
      <Bill />
      <Cols>
        <CutList />
        <Settings />
      </Cols>
      <Switches />
      <Fits />
      <Cautions step="build" />
    </>
  );
}

function CutList() {
  const { report, show } = useNumbers();
  const toothed = report?.cut.some((c) => c.teeth > 0) ?? false;
  return (
    <Sheet title="Cut list">
      <Table
        columns={["Piece", { name: toothed ? "Teeth" : "", right: true }, { name: "Length", right: true }]}
      >
        {report?.cut.map((c) => {
          const long = show(c.length_mm, "mm", 6);
          return (
            <tr key={c.what}>
              <td>
                {c.what}
                <div className="small quiet">{c.note}</div>
              </td>
              <Num>{c.teeth > 0 ? c.teeth : ""}</Num>
              <Num title={long.both}>{long.said}</Num>
            </tr>
          );
        })}
      </Table>
      {report?.cut.length === 0 && <p className="small quiet">Nothing is cut to length.</p>}
      {toothed && <p className="small quiet">Teeth: cut through the middle of a gap between two of them.</p>}
    </Sheet>
  );
}

function Settings() {
  const { report, show } = useNumbers();
  return (
    <Sheet title="Settings for the controller">
      <Table>
        {report?.settings.map((s) => {
          const got = show(s.value, s.unit, s.unit.startsWith("steps") ? 7 : 4);
          return (
            <tr key={s.label}>
              <td>
                {s.label}
                {s.note && <div className="small quiet">{s.note}</div>}
              </td>
              <Num>{s.value === null ? "unknown" : got.said}</Num>
            </tr>
          );
        })}
      </Table>
    </Sheet>
  );
}

function Switches() {
  const { find } = useNumbers();
  if (!find("switch.near")) return null;
  return (
    <Sheet title="Switches and homing" note="places from the rail's own end, at the carriage's middle">
      <Figs>
        <Figure of="switch.near" label="Motor's end trips at" digits={4} />
        <Figure of="switch.far" label="Far end trips at, from that end" digits={4} />
        <Figure of="homing.stop" />
        <Figure of="homing.fastest" label="Fastest approach" />
        <Figure of="homing.repeat" label="Zero comes again within" />
        <Figure of="homing.coast" label="Coasts without power" />
      </Figs>
      <Fields>
        <ChoiceField path="switches.home" />
        <ChoiceField path="switches.kind" />
        <NumberField path="switches.speed_mm_s" />
      </Fields>
      <Fold
        title="What it is reckoned with"
        says="how well the switch comes again, how often it is looked at"
      >
        {() => (
          <Fields>
            <NumberField path="switches.repeat_mm" />
            <NumberField path="switches.period_ms" />
            <NumberField path="guide.overtravel_mm" />
          </Fields>
        )}
      </Fold>
    </Sheet>
  );
}

function Fits() {
  const { report } = useView();
  return (
    <Sheet title="Bore and hub" note="measure the shaft before you ream">
      <Figs>
        <Figure of="hub.fit" label="Bore over shaft" />
        <Figure of="hub.wall" />
        <Figure of="hub.torque" />
        <Figure of="hub.grip" />
        <Figure of="reach.rim" label="Rim on the motor's shaft" />
        <Figure of="reach.bolts" label="Room for the key at its bolts" />
      </Figs>
      {report?.ladder
        .filter((r) => r.key === "grip")
        .map((r) => (
          <p key={r.key} className="small quiet">
            Grip of the pulley on its shaft: <b>{r.verdict}</b>
            {r.ratio !== null && (
              <>
                , <span className="num">{number(r.ratio)}</span> times what is asked,{" "}
                <span className="num">{number(r.margin)}</span> wanted
              </>
            )}
            .
          </p>
        ))}
    </Sheet>
  );
}
