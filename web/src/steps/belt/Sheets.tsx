/** A drawing at full size on sheets of paper, to print and to check with the ruler on each. */
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { ask, type OutAnswer } from "../../api/client";
import { useAxis } from "../../api/queries";

export default function Sheets() {
  const { id = "" } = useParams();
  const [search] = useSearchParams();
  const [paper, setPaper] = useState<"A4" | "letter">("A4");
  const what = search.get("what") ?? "path:end";
  const axis = useAxis(id);
  const sheets = useQuery({
    queryKey: ["sheets", id, axis.data?.version, what, paper],
    queryFn: () =>
      ask<OutAnswer>("/out", { body: { design: axis.data!.design, what, form: "sheets", paper } }),
    enabled: !!axis.data,
    retry: false,
  });
  const error = axis.error ?? sheets.error;
  return (
    <div className="sheets">
      <style>{`@page { size: ${paper === "A4" ? "A4" : "letter"} landscape; margin: 0; }`}</style>
      <div
        className="no-print page"
        style={{ display: "flex", gap: 14, alignItems: "baseline", paddingBottom: 12 }}
      >
        <h1 style={{ fontSize: 20 }}>{sheets.data ? `${sheets.data.name}, full size` : "Sheets"}</h1>
        <span className="quiet small">
          Print without scaling, lying; then lay a real ruler on the printed one: it must read 100 mm.
        </span>
        <select
          className="act"
          aria-label="Paper"
          value={paper}
          onChange={(e) => setPaper(e.target.value as "A4" | "letter")}
        >
          <option value="A4">A4</option>
          <option value="letter">letter</option>
        </select>
        <button className="act main" onClick={() => window.print()} disabled={!sheets.data}>
          Print{" "}
          {sheets.data ? `${sheets.data.files.length} sheet${sheets.data.files.length > 1 ? "s" : ""}` : ""}
        </button>
        <Link to={`/axis/${id}/belt`}>back</Link>
      </div>
      {error && (
        <p className="page signal" role="alert">
          {error.message}
        </p>
      )}
      {sheets.data?.files.map((text, i) => (
        <img
          key={i}
          alt={`Sheet ${i + 1} of ${sheets.data.files.length}`}
          src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`}
          style={{
            width: paper === "A4" ? "297mm" : "279.4mm",
            height: paper === "A4" ? "210mm" : "215.9mm",
          }}
        />
      ))}
    </div>
  );
}
