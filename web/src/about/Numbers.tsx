/** About the numbers: every formula and datum with its source. */
import { useState } from "react";
import { useNumbers, useStart } from "../api/queries";
import { PageTop, Plain } from "../frame/Plain";
import { Fetched } from "../kit/Fetched";
import { Words } from "../kit/inputs";
import { Fold, Num, Part, Table } from "../kit/sheets";

export default function Numbers() {
  const numbers = useNumbers();
  const start = useStart();
  const [search, setSearch] = useState("");
  const sought = search.toLowerCase().split(/\s+/).filter(Boolean);
  const named = (words: string) => sought.every((w) => words.toLowerCase().includes(w));
  return (
    <Plain>
      <PageTop
        title="About the numbers"
        says="Each formula with its equation, units, range and source. They are a design aid, not a certificate."
      >
        <Words label="Search" value={search} onValue={setSearch} />
      </PageTop>
      <Fetched of={numbers} what="the formulas">
        {(all) => (
          <Table
            columns={[
              { name: "What", width: "25%" },
              { name: "Equation and units", width: "33%" },
              "Range",
              { name: "Source", width: "24%" },
            ]}
          >
            {all
              .filter((f) => named(`${f.title} ${f.equation} ${f.source}`))
              .sort((a, b) => a.title.localeCompare(b.title))
              .map((f) => (
                <tr key={f.name}>
                  <td>{f.title}</td>
                  <td>
                    <span className="num small">{f.equation}</span>
                    <br />
                    <span className="small quiet">{f.units}</span>
                  </td>
                  <td className="small">{f.valid}</td>
                  <td className="small">
                    <b>{f.source_kind}</b> — {f.source}
                  </td>
                </tr>
              ))}
          </Table>
        )}
      </Fetched>
      <Part title="Belt profiles">
        <Fetched of={start} what="the belt profiles">
          {(found) => (
            <Table
              columns={[
                "Profile",
                "Standard",
                { name: "Pitch, mm", right: true },
                "Widths, mm",
                { name: "Least teeth", right: true },
                "Where the data come from",
              ]}
            >
              {found.profiles.map((p) => (
                <tr key={p.key}>
                  <td>{p.name}</td>
                  <td className="small">{p.standard}</td>
                  <Num>{p.pitch_mm}</Num>
                  <td className="num small">{p.widths_mm.join("  ")}</td>
                  <Num>{p.min_teeth}</Num>
                  <td className="small quiet">
                    <Fold
                      title={<>{new Set(Object.values(p.sources).map((s) => s[0])).size} kinds of source</>}
                    >
                      {Object.entries(p.sources).map(([k, [kind, note]]) => (
                        <div key={k}>
                          {k.replaceAll("_", " ")}: {kind} — {note}
                        </div>
                      ))}
                    </Fold>
                  </td>
                </tr>
              ))}
            </Table>
          )}
        </Fetched>
      </Part>
    </Plain>
  );
}
