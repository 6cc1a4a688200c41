/** What can be done today and what to order next; the order of work; the bill; cut list, fits, settings. */
import { useNumbers, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { Bill } from "./Bill";
import { Today, Work } from "./Work";

export default function Build() {
  return (
    <>
      <Today />
      <Work />
      <Bill />
      <div className="cols">
        <CutList />
        <Settings />
      </div>
      <Fits />
      <Cautions step="build" />
    </>
  );
}

function CutList() {
  const { report, show } = useNumbers();
  return (
    <section className="sheet">
      <h2>Cut list</h2>
      <table>
        <thead>
          <tr>
            <th>Piece</th>
            <th className="r">Teeth</th>
            <th className="r">Length</th>
          </tr>
        </thead>
        <tbody>
          {report?.cut.map((c) => {
            const long = show(c.length_mm, "mm", 6);
            return (
              <tr key={c.what}>
                <td>
                  {c.what}
                  <div className="small quiet">{c.note}</div>
                </td>
                <td className="r num">{c.teeth}</td>
                <td className="r num" title={long.both}>
                  {long.text} {long.unit}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="small quiet" style={{ marginTop: 8 }}>
        Cut through the middle of a gap between two teeth.
      </p>
    </section>
  );
}

function Settings() {
  const { report, show } = useNumbers();
  return (
    <section className="sheet">
      <h2>Settings for the controller</h2>
      <table>
        <tbody>
          {report?.settings.map((s) => {
            const got = show(s.value, s.unit, 7);
            return (
              <tr key={s.label}>
                <td>
                  {s.label}
                  {s.note && <div className="small quiet">{s.note}</div>}
                </td>
                <td className="r num">{s.value === null ? "unknown" : `${got.text} ${got.unit}`}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function Fits() {
  const { report } = useView();
  return (
    <section className="sheet">
      <h2>
        Bore and hub <span className="quiet">measure the shaft before you ream</span>
      </h2>
      <div className="figs">
        <Figure of="hub.fit" label="Bore over shaft" />
        <Figure of="hub.wall" />
        <Figure of="hub.torque" />
        <Figure of="hub.grip" />
      </div>
      {report?.ladder
        .filter((r) => r.key === "grip")
        .map((r) => (
          <p key={r.key} className="small quiet" style={{ marginTop: 8 }}>
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
    </section>
  );
}
