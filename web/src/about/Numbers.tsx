/** About the numbers: every formula and datum with its source. */
import { useState } from "react";
import { useNumbers, useStart } from "../api/queries";
import { Plain } from "../frame/Plain";

export default function Numbers() {
  const numbers = useNumbers();
  const start = useStart();
  const [search, setSearch] = useState("");
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = (numbers.data ?? []).filter((f) =>
    words.every((w) => `${f.title} ${f.equation} ${f.source}`.toLowerCase().includes(w)),
  );
  return (
    <Plain>
      <div style={{ display: "flex", alignItems: "end", gap: 18, marginBottom: 12 }}>
        <h1 style={{ fontSize: 24, fontWeight: 600 }}>About the numbers</h1>
        <p className="quiet small" style={{ flex: 1 }}>
          Each formula with its equation, units, range and source. They are a design aid, not a certificate.
        </p>
        <div className="field text" style={{ width: 240 }}>
          <label className="name" htmlFor="numbers-search">
            Search
          </label>
          <div className="box">
            <input id="numbers-search" value={search} onChange={(e) => setSearch(e.target.value)} />
          </div>
        </div>
      </div>
      <table>
        <thead>
          <tr>
            <th style={{ width: "25%" }}>What</th>
            <th style={{ width: "33%" }}>Equation and units</th>
            <th>Range</th>
            <th style={{ width: "24%" }}>Source</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((f) => (
            <tr key={f.name}>
              <td>{f.title}</td>
              <td>
                <span className="equation">{f.equation}</span>
                <br />
                <span className="small quiet">{f.units}</span>
              </td>
              <td className="small">{f.valid}</td>
              <td className="small">
                <b>{f.source_kind}</b> — {f.source}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 style={{ margin: "26px 0 8px" }}>Belt profiles</h2>
      <table>
        <thead>
          <tr>
            <th>Profile</th>
            <th>Standard</th>
            <th className="r">Pitch, mm</th>
            <th>Widths, mm</th>
            <th className="r">Least teeth</th>
            <th>Where the data come from</th>
          </tr>
        </thead>
        <tbody>
          {start.data?.profiles.map((p) => (
            <tr key={p.key}>
              <td>{p.name}</td>
              <td className="small">{p.standard}</td>
              <td className="r num">{p.pitch_mm}</td>
              <td className="num small">{p.widths_mm.join("  ")}</td>
              <td className="r num">{p.min_teeth}</td>
              <td className="small quiet">
                <details>
                  <summary style={{ fontWeight: 400 }}>
                    {new Set(Object.values(p.sources).map((s) => s[0])).size} kinds of source
                  </summary>
                  {Object.entries(p.sources).map(([k, [kind, note]]) => (
                    <div key={k}>
                      {k.replaceAll("_", " ")}: {kind} — {note}
                    </div>
                  ))}
                </details>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Plain>
  );
}
