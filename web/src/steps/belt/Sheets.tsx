/** A drawing at full size on sheets of paper, to print and to check with the ruler on each. */
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { ask, type OutAnswer } from "../../api/client";
import { useAxis } from "../../api/queries";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Pick } from "../../kit/inputs";
import { Line } from "../../kit/sheets";
import { counted } from "../../units/format";
import css from "./belt.module.css";

type Paper = "A4" | "letter";

export default function Sheets() {
  const { id = "" } = useParams();
  const [search] = useSearchParams();
  const [paper, setPaper] = useState<Paper>("A4");
  const what = search.get("what") ?? "path:end";
  const axis = useAxis(id);
  const sheets = useQuery({
    queryKey: ["sheets", id, axis.data?.version, what, paper],
    queryFn: () =>
      ask<OutAnswer>("/out", { body: { design: axis.data!.design, what, form: "sheets", paper } }),
    enabled: !!axis.data,
    retry: false,
  });
  return (
    <main className={css.sheets}>
      <style>{`@page { size: ${paper} landscape; margin: 0; }`}</style>
      <div className={`no-print ${css.top}`}>
        <h1>{sheets.data ? `${sheets.data.name}, full size` : "Sheets"}</h1>
        <Line>
          <span className="quiet small">
            Print without scaling, lying; then lay a real ruler on the printed one: it must read 100 mm.
          </span>
          <Pick
            bare
            label="Paper"
            value={paper}
            options={["A4", "letter"]}
            onValue={(v) => setPaper(v as Paper)}
          />
          <Act big main onClick={() => window.print()} disabled={!sheets.data}>
            Print {sheets.data ? counted(sheets.data.files.length, "sheet") : ""}
          </Act>
          <Link to={`/axis/${id}/belt`}>back</Link>
        </Line>
      </div>
      <Fetched of={(axis.error ? axis : sheets) as typeof sheets} what="the sheets">
        {(found) =>
          found.files.map((text, i) => (
            <img
              key={i}
              alt={`Sheet ${i + 1} of ${found.files.length}`}
              src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`}
              data-paper={paper}
            />
          ))
        }
      </Fetched>
    </main>
  );
}
