/** The bill: every part, whether it is here, what it costs; and whatever else has to be bought. */
import { useBench, useMost, useNumbers, useView } from "../../design/context";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { TextField } from "../../fields/OtherFields";
import { money, number } from "../../units/format";

export function Bill() {
  const { session } = useBench();
  const { report } = useNumbers();
  const { design } = useView();
  if (!report) return null;
  return (
    <section className="sheet">
      <h2>
        Bill <span className="quiet">tick what lies before you; prices can be typed here</span>
      </h2>
      <table>
        <thead>
          <tr>
            <th style={{ width: 44 }}>Here</th>
            <th>Part</th>
            <th>Which</th>
            <th className="r">How many</th>
            <th className="r" style={{ width: 122 }}>
              Price each
            </th>
            <th className="r">Together</th>
          </tr>
        </thead>
        <tbody>
          {report.bill.map((b) => {
            const part = getAt(design, b.field) as Record<string, unknown> | undefined;
            const perMetre = part !== undefined && "price_per_m" in part;
            return (
              <tr key={b.field} data-bill={b.field}>
                <td>
                  <input
                    type="checkbox"
                    aria-label={`${b.what} is here`}
                    checked={part?.in_stock === true}
                    onChange={(e) => session.set(`${b.field}.in_stock`, e.target.checked)}
                  />
                </td>
                <td>{b.what}</td>
                <td className="small quiet">{b.detail}</td>
                <td className="r num">
                  {number(b.quantity, 4)} {b.unit}
                </td>
                <td className="r">
                  <NumberField
                    path={`${b.field}.${perMetre ? "price_per_m" : "price"}`}
                    label={`Price of ${b.what}`}
                    bare
                  />
                </td>
                <td className="r num">
                  {b.total === null ? (
                    <span className="quiet">no price yet</span>
                  ) : (
                    money(b.total, report.currency)
                  )}
                </td>
              </tr>
            );
          })}
          <tr className="total">
            <td />
            <td>In all</td>
            <td />
            <td />
            <td />
            <td className="r num">{money(report.bill_total, report.currency)}</td>
          </tr>
        </tbody>
      </table>
      <div className="figs" style={{ margin: "12px 0" }}>
        <Figure of="bill.spend" digits={6} />
        {design.aim.budget !== null && design.aim.budget !== undefined && (
          <div className="fig">
            <div className="name">Budget</div>
            <div className="val">
              {number(design.aim.budget, 6)}
              <small>{report.currency}</small>
            </div>
          </div>
        )}
        {report.bill_unpriced > 0 && (
          <div className="fig">
            <div className="name">Without a price</div>
            <div className="val">
              {report.bill_unpriced}
              <small>{report.bill_unpriced === 1 ? "part" : "parts"}</small>
            </div>
          </div>
        )}
      </div>
      <Extras />
    </section>
  );
}

function Extras() {
  const { session } = useBench();
  const { design } = useView();
  const rows = design.extras ?? [];
  const most = useMost("extras");
  return (
    <details>
      <summary>Also to buy: rails, wheels, screws, switches</summary>
      {rows.length > 0 && (
        <p className="small quiet" style={{ marginBottom: 8 }}>
          Their prices stand on the bill above.
        </p>
      )}
      {rows.map((_, i) => (
        <div
          key={i}
          className="fields"
          style={{ gridTemplateColumns: "minmax(0, 1fr) 120px auto", alignItems: "end", marginBottom: 8 }}
        >
          <TextField path={`extras.${i}.label`} label="What" />
          <NumberField path={`extras.${i}.quantity`} />
          <button
            className="plain small"
            onClick={() =>
              session.set(
                "extras",
                rows.filter((__, j) => j !== i),
              )
            }
            aria-label={`Remove ${rows[i]?.label || `line ${i + 1}`}`}
          >
            Remove
          </button>
        </div>
      ))}
      <button
        className="act tight"
        disabled={rows.length >= most}
        onClick={() => session.set("extras", [...rows, { label: "", quantity: 1, price: null }])}
      >
        Add a line
      </button>
    </details>
  );
}
