/** The bill: every part, whether it is here, what it costs; and whatever else has to be bought. */
import { useState } from "react";
import { useBench, useNumbers, useView } from "../../design/context";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { ListOf } from "../../fields/ListOf";
import { NumberField } from "../../fields/NumberField";
import { TextField } from "../../fields/OtherFields";
import { Act } from "../../kit/Act";
import { Tick } from "../../kit/inputs";
import { Acts, Fig, Figs, Fold, Num, Sheet, Table } from "../../kit/sheets";
import { about, money, number } from "../../units/format";
import { useWork } from "./inMachine";

export function Bill() {
  const { session } = useBench();
  const { report } = useNumbers();
  const { design } = useView();
  const [pricing, setPricing] = useState("");
  const came = new Set(useWork().by_parcel);
  if (!report) return null;
  const { budget } = design.aim;
  return (
    <Sheet title="Bill" note="tick what lies before you; a price opens to be typed">
      <Table
        columns={[
          { name: "Here", width: 44 },
          "Part",
          "Which",
          { name: "How many", right: true },
          { name: "Price each", right: true, width: 132 },
          { name: "Together", right: true },
        ]}
      >
        {report.bill.map((b) => {
          const part = getAt(design, b.field) as Record<string, unknown> | undefined;
          const each = b.unit === "m" ? "price_per_m" : "price";
          const path = `${b.field}.${each}`;
          const price = part?.[each];
          return (
            <tr key={b.field} data-bill={b.field}>
              <td>
                <Tick
                  bare
                  label={`${b.what} is here`}
                  on={part?.in_stock === true && !b.got}
                  off={came.has(b.field)}
                  hint={came.has(b.field) ? "It came in a parcel: the machine's page says which." : undefined}
                  onValue={(on) =>
                    session.setAll(
                      { [`${b.field}.in_stock`]: on, [`${b.field}.got`]: 0 },
                      `${b.field}.in_stock`,
                      [`${b.field}.in_stock`],
                    )
                  }
                />
              </td>
              <td>{b.what}</td>
              <td className="small quiet">
                {b.detail}
                {b.ordered && (
                  <div data-ordered>
                    ordered {b.ordered}
                    {b.due && `, due ${b.due}`}
                  </div>
                )}
                {Boolean(b.got) && (
                  <div data-got>
                    {number(b.got, 4)} {b.unit} here or ordered, the rest is to buy
                  </div>
                )}
              </td>
              <Num>
                {number(b.quantity, 4)} {b.unit}
              </Num>
              <Acts>
                {pricing === path ? (
                  <span
                    ref={(held) => held?.querySelector("input")?.focus()}
                    onBlur={() => setPricing("")}
                    onKeyDown={(e) => e.key === "Enter" && setPricing("")}
                  >
                    <NumberField path={path} label={`Price of ${b.what}`} bare />
                  </span>
                ) : (
                  <Act plain aria-label={`Price of ${b.what}`} onClick={() => setPricing(path)}>
                    <span className="num">
                      {typeof price === "number"
                        ? money(price, report.currency)
                        : b.typical
                          ? about(b.price_each, report.currency, true)
                          : "set it"}
                    </span>
                  </Act>
                )}
              </Acts>
              <Num>
                {b.total === null ? (
                  <span className="quiet">no price yet</span>
                ) : (
                  about(b.total, report.currency, b.typical)
                )}
              </Num>
            </tr>
          );
        })}
        <tr data-total>
          <td />
          <td>In all</td>
          <td />
          <td />
          <td />
          <Num>
            {about(
              report.bill_total,
              report.currency,
              report.bill.some((b) => b.typical),
            )}
          </Num>
        </tr>
      </Table>
      <Figs>
        <Figure of="bill.spend" cents />
        {typeof budget === "number" && <Fig name="Budget" value={budget.toFixed(2)} unit={report.currency} />}
        {report.bill_typical > 0 && (
          <Fig
            name="At a typical price, yours not set"
            value={report.bill_typical}
            unit={report.bill_typical === 1 ? "part" : "parts"}
          />
        )}
        {report.bill_unpriced > 0 && (
          <Fig
            name="Without a price"
            value={report.bill_unpriced}
            unit={report.bill_unpriced === 1 ? "part" : "parts"}
          />
        )}
      </Figs>
      <Fold
        title="Also to buy: rails, wheels, screws, switches"
        says={design.extras?.length ? `${design.extras.length} lines, priced on the bill above` : "nothing"}
      >
        <ListOf list="extras" add="Add a line" fresh={() => ({ label: "", quantity: 1, price: null })}>
          {(at) => (
            <>
              <TextField path={`${at}.label`} label="What" />
              <NumberField path={`${at}.quantity`} />
            </>
          )}
        </ListOf>
      </Fold>
    </Sheet>
  );
}
