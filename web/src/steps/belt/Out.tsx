/** Takes out drawings and lists: SVG and DXF in millimetres, CSV, and sheets to print at full size. */
import { useState } from "react";
import { Link } from "react-router";
import { ask, type BeltPlan, type OutAnswer, type Start } from "../../api/client";
import { useBench, usePick } from "../../design/context";

export default function Out({ plan }: { plan: BeltPlan }) {
  const { session, start } = useBench();
  const id = usePick((v) => v.id);
  const [error, setError] = useState("");
  const take = async (what: string, form: string) => {
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
      <h2>
        Take out{" "}
        <span className="quiet">millimetres, full size; the sheets carry a ruler to check the printer</span>
      </h2>
      <table className="rows">
        <tbody>
          {plan.out.map((o) => (
            <tr key={o.what}>
              <td>{o.name}</td>
              <td className="r" style={{ width: 330 }}>
                <Forms of="drawing" start={start} name={o.name} take={(form) => void take(o.what, form)} />
                <Link
                  to={`/axis/${id}/sheets?what=${encodeURIComponent(o.what)}`}
                  aria-label={`${o.name} to print at full size`}
                >
                  print at full size
                </Link>
              </td>
            </tr>
          ))}
          <tr>
            <td>Cut list</td>
            <td className="r">
              <Forms of="list" start={start} name="Cut list" take={(form) => void take(start.cut, form)} />
            </td>
          </tr>
        </tbody>
      </table>
      {error && (
        <p className="signal" role="alert">
          {error}
        </p>
      )}
    </section>
  );
}

/** A button for each format that something goes out in. */
function Forms({
  of,
  start,
  name,
  take,
}: {
  of: "drawing" | "list";
  start: Start;
  name: string;
  take: (form: string) => void;
}) {
  return (
    <>
      {start.forms
        .filter((f) => f.of === of)
        .map((f) => (
          <span key={f.key}>
            <button className="act tight" onClick={() => take(f.key)} aria-label={`${name} as ${f.name}`}>
              {f.name}
            </button>{" "}
          </span>
        ))}
    </>
  );
}
