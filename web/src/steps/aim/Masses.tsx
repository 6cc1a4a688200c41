/** What moves, and the heads that it carries one at a time. */
import { useBench, useMost, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";

export function Tally() {
  const { session } = useBench();
  const { design } = useView();
  const rows = design.moving;
  const most = useMost("moving");
  const add = () =>
    session.set("moving", [
      ...rows,
      { label: "", mass_kg: 0.1, quantity: 1, source: { kind: "estimate", note: "" } },
    ]);
  return (
    <section className="sheet">
      <h2>
        What moves{" "}
        <span className="quiet">weigh it if you can; belts, idlers and arms are added by themselves</span>
      </h2>
      <table>
        <tbody>
          {rows.map((_, i) => (
            <tr key={i}>
              <td style={{ width: "40%" }}>
                <TextField
                  path={`moving.${i}.label`}
                  label={i === 0 ? "What moves" : `What moves, line ${i + 1}`}
                />
              </td>
              <td>
                <NumberField path={`moving.${i}.mass_kg`} />
              </td>
              <td>
                <NumberField path={`moving.${i}.quantity`} />
              </td>
              <td>
                <ChoiceField path={`moving.${i}.source.kind`} label="Known how" />
              </td>
              <td className="r">
                <button
                  className="plain small"
                  onClick={() =>
                    session.set(
                      "moving",
                      rows.filter((__, j) => j !== i),
                    )
                  }
                  disabled={rows.length === 1}
                  aria-label={`Remove line ${i + 1}`}
                >
                  Remove
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ display: "flex", alignItems: "end", gap: 26, marginTop: 10 }}>
        <button className="act tight" onClick={add} disabled={rows.length >= most}>
          Add a line
        </button>
        <div className="figs">
          <Figure of="mass.tally" label="By tally" />
          <Figure of="loop.carried" />
          <Figure of="mass.total" label="Moves in all" />
        </div>
      </div>
    </section>
  );
}

export function Heads() {
  const { session } = useBench();
  const { design } = useView();
  const rows = design.heads ?? [];
  const most = useMost("heads");
  return (
    <details className="sheet" open={rows.length > 0}>
      <summary>
        Heads, one at a time{" "}
        <span className="quiet" style={{ fontWeight: 400 }}>
          load cases: the worst governs, each is shown in Drive
        </span>
      </summary>
      {rows.map((_, i) => (
        <div
          key={i}
          className="fields"
          style={{
            gridTemplateColumns: "minmax(0, 1fr) 150px 150px auto",
            alignItems: "end",
            marginBottom: 8,
          }}
        >
          <TextField path={`heads.${i}.label`} />
          <NumberField path={`heads.${i}.mass_kg`} />
          <NumberField path={`heads.${i}.push_n`} />
          <button
            className="plain small"
            onClick={() =>
              session.set(
                "heads",
                rows.filter((__, j) => j !== i),
              )
            }
          >
            Remove
          </button>
        </div>
      ))}
      <button
        className="act tight"
        disabled={rows.length >= most}
        onClick={() => session.set("heads", [...rows, { label: `Head ${rows.length + 1}`, mass_kg: 0.5 }])}
      >
        Add a head
      </button>
    </details>
  );
}
