/** Takes out drawings and lists: SVG and DXF in millimetres, CSV, and sheets to print at full size. */
import { useState } from "react";
import { Link } from "react-router";
import { ask, type BeltPlan, type OutAnswer } from "../../api/client";
import { useBench, usePick } from "../../design/context";

export default function Out({ plan }: { plan: BeltPlan }) {
  const { session } = useBench();
  const id = usePick((v) => v.id);
  const [error, setError] = useState("");
  const take = async (what: string, form: "svg" | "dxf") => {
    try {
      const got = await ask<OutAnswer>("/out", { body: { design: session.get().design, what, form } });
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([got.files[0] ?? ""], { type: got.media }));
      link.download = got.name;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
      setError("");
    } catch (e) {
      setError(e instanceof Error ? e.message : "It could not be made.");
    }
  };
  return (
    <section className="sheet">
      <h2>Take out <span className="quiet">millimetres, full size; the sheets carry a ruler to check the printer</span></h2>
      <table className="rows">
        <tbody>
          {plan.out.map((o) => (
            <tr key={o.what}><td>{o.name}</td><td className="r" style={{ width: 330 }}>
              <button className="act tight" onClick={() => void take(o.what, "svg")} aria-label={`${o.name} as SVG`}>SVG</button>{" "}
              <button className="act tight" onClick={() => void take(o.what, "dxf")} aria-label={`${o.name} as DXF`}>DXF</button>{" "}
              <Link to={`/axis/${id}/sheets?what=${encodeURIComponent(o.what)}`} aria-label={`${o.name} to print at full size`}>print at full size</Link>
            </td></tr>
          ))}
          <tr><td>Cut list</td><td className="r"><button className="act tight" onClick={() => void take("cut", "svg")} aria-label="Cut list as CSV">CSV</button></td></tr>
        </tbody>
      </table>
      {error && <p className="signal" role="alert">{error}</p>}
    </section>
  );
}
