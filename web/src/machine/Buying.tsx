/** What is on its way to a machine, what was paid when, what is cut from what, and what feeds its motors. */
import { useState } from "react";
import { BASE, type MachineAnswer, type Purchase } from "../api/client";
import { newKey } from "../api/keys";
import { useDraft, useSent } from "../design/typed";
import { Act, ActLink } from "../kit/Act";
import { Tick, Words } from "../kit/inputs";
import { Unsent } from "../kit/Unsent";
import { Acts, Fig, Figs, Fold, Line, Num, Sheet, Table } from "../kit/sheets";
import { today } from "../steps/log/today";
import { money, number } from "../units/format";
import { Length } from "./Length";
import { amount, usePlan, useSaid } from "./plan";
import css from "./machine.module.css";

export function Parcels({ machine }: { machine: MachineAnswer }) {
  const { change, save } = usePlan(machine);
  const { bought } = machine.plan;
  const { currency } = machine.report.money;
  if (bought.length === 0) return null;
  const lines = new Map(machine.report.lines.map((x) => [x.line, `${x.what}, ${x.axis}`]));
  return (
    <Sheet title="On the way, and what came" note="a parcel is here once it has arrived" data-parcels>
      <Table
        columns={[
          "What",
          "For",
          { name: "Price", right: true },
          { name: "Freight", right: true },
          "Ordered",
          "Due",
          "Arrived",
          "",
        ]}
      >
        {bought.map((p) => (
          <tr key={p.id} data-parcel={p.id}>
            <td>
              {p.what}
              {p.shop && <span className="small quiet"> from {p.shop}</span>}
              {p.spare && <span className="small quiet"> · spare</span>}
            </td>
            <td className="small quiet">
              {(p.shares ?? []).map((s) => lines.get(s.line) ?? "a part that was removed").join("; ") ||
                "the machine"}
            </td>
            <Num>{money(p.price ?? 0, currency)}</Num>
            <Num>{money(p.freight ?? 0, currency)}</Num>
            <td className={`num small ${css.day}`}>{p.ordered || "not yet"}</td>
            <td className={`num small ${css.day} ${!p.arrived && p.due && p.due < today() ? "signal" : ""}`}>
              {p.due || "no day"}
              {!p.arrived && p.due && p.due < today() && " late"}
            </td>
            <td className={`num small ${css.day}`}>
              {p.arrived ? `${p.arrived}${p.checked ? ", checked" : ""}` : "no"}
            </td>
            <Acts>
              <span className={`no-print ${css.acts}`}>
                {!p.arrived && (
                  <Act aria-label={`${p.what} arrived`} onClick={() => change(p.id!, { arrived: today() })}>
                    Arrived
                  </Act>
                )}
                {p.arrived && !p.checked && (
                  <Act aria-label={`${p.what} checked`} onClick={() => change(p.id!, { checked: true })}>
                    Checked
                  </Act>
                )}
                {p.arrived && (
                  <Act
                    plain
                    aria-label={`${p.what} has not arrived`}
                    onClick={() => change(p.id!, { arrived: "", checked: false })}
                  >
                    not yet
                  </Act>
                )}
                <Act
                  plain
                  aria-label={`Take ${p.what} out`}
                  onClick={() => save((plan) => ({ bought: plan.bought.filter((o) => o.id !== p.id) }))}
                >
                  Take out
                </Act>
              </span>
            </Acts>
          </tr>
        ))}
      </Table>
    </Sheet>
  );
}

export function MoneyOf({ machine }: { machine: MachineAnswer }) {
  const { save, busy } = usePlan(machine);
  const m = machine.report.money;
  const limit = useDraft("budget", { budget: m.budget === null ? "" : String(m.budget) });
  const { budget } = limit.value;
  // With an id of its own: pressed again it is the same purchase.
  const paid = useDraft("paid", { id: newKey(6), what: "", price: "", spare: false });
  const { id, what, price, spare } = paid.value;
  const pay = () =>
    save(
      (plan) => ({
        bought: [
          ...plan.bought,
          {
            id,
            what: what.trim(),
            shares: [],
            price: amount(price) ?? 0,
            ordered: today(),
            spare,
          } as unknown as Purchase,
        ],
      }),
      { onSuccess: paid.drop },
    );
  return (
    <Sheet
      title="Money"
      note={`in ${m.currency}, each amount to the cent, halves up`}
      aside={
        <span className="no-print">
          <ActLink href={`${BASE}/api/machines/${machine.id}/bill?today=${today()}`} download="">
            Bill as CSV
          </ActLink>
        </span>
      }
      data-money
    >
      <Figs>
        <Fig
          name="Paid"
          value={m.paid.toFixed(2)}
          unit={m.currency}
          data-result="money.paid"
          data-value={m.paid}
        />
        <Fig
          name="Still to spend"
          value={m.to_spend.toFixed(2)}
          unit={m.currency}
          data-result="money.to_spend"
          data-value={m.to_spend}
        />
        {m.left !== null && (
          <Fig
            name={m.left < 0 ? "Over the budget by" : "Left of the budget"}
            value={Math.abs(m.left).toFixed(2)}
            unit={m.currency}
          />
        )}
      </Figs>
      <Table
        columns={[
          "Axis",
          { name: "paid", right: true },
          { name: "still to spend", right: true },
          { name: "from the drawer", right: true },
        ]}
      >
        {m.sums.map((s) => (
          <tr key={s.axis} data-sum={s.axis}>
            <td>{s.name}</td>
            <Num>{s.paid.toFixed(2)}</Num>
            <Num>{s.to_spend.toFixed(2)}</Num>
            <Num>{s.in_drawer.toFixed(2)}</Num>
          </tr>
        ))}
      </Table>
      <Line>
        <Words
          label="Budget"
          figures
          unit={m.currency}
          value={budget}
          onValue={(v) => limit.set({ budget: v })}
          error={budget !== "" && amount(budget) === null ? "An amount." : undefined}
        />
        {limit.typed && (
          <Act
            busy={busy}
            onClick={() =>
              save(() => ({ budget: budget === "" ? null : amount(budget) }), { onSuccess: limit.drop })
            }
          >
            Keep it
          </Act>
        )}
        <Unsent of={limit} what="what is typed" />
      </Line>
      {m.days.length > 0 && (
        <Table
          caption="Bill by day"
          columns={[
            "Day",
            "What",
            "Axis",
            { name: "price", right: true },
            { name: "freight", right: true },
            { name: "in all so far", right: true },
          ]}
        >
          {m.days.map((p, i) => (
            <tr key={`${p.day} ${p.what} ${i}`} data-paid={p.day}>
              <td className="num">{p.day}</td>
              <td>
                {p.what}
                {p.spare && <span className="small quiet"> · spare</span>}
              </td>
              <td className="small">{p.axis || "the machine"}</td>
              <Num>{p.price.toFixed(2)}</Num>
              <Num>{p.freight ? p.freight.toFixed(2) : ""}</Num>
              <Num>{p.sum_so_far.toFixed(2)}</Num>
            </tr>
          ))}
        </Table>
      )}
      <Fold title="Paid for something that is on no bill" says="tools, spares, paint">
        {() => (
          <Line>
            <Words label="What" value={what} most={200} onValue={(v) => paid.set({ what: v })} roomy />
            <Words
              label="Price"
              figures
              unit={m.currency}
              value={price}
              onValue={(v) => paid.set({ price: v })}
              error={price && amount(price) === null ? "An amount." : undefined}
            />
            <Tick label="a spare" on={spare} onValue={(v) => paid.set({ spare: v })} />
            <Act disabled={!what.trim() || amount(price) === null} busy={busy} onClick={pay}>
              Paid today
            </Act>
            <Unsent of={paid} what="what is typed" />
          </Line>
        )}
      </Fold>
    </Sheet>
  );
}

export function Cut({ machine }: { machine: MachineAnswer }) {
  const { cuts } = machine.report;
  const { save } = usePlan(machine);
  const said = useSaid();
  const lengths = machine.plan.lengths ?? [];
  const sent = useSent();
  const [long, setLong] = useState<Record<string, number | null>>({});
  if (cuts.length === 0) return null;
  const { kerf_mm = 2, left_long_mm = 2 } = machine.plan;
  return (
    <Sheet
      title="Cut from lengths"
      note={`one packing over all axes; ${said(kerf_mm, "mm").said} lost in a saw cut, ${said(left_long_mm, "mm").said} left on to trim after measuring`}
      data-cuts
    >
      <Table columns={["Of", "Pieces", "From", { name: "left over", right: true }, ""]}>
        {cuts.map((c) => (
          <tr key={c.of} data-cut={c.of}>
            <td>{c.of}</td>
            <td className="small">
              {c.pieces.map((p) => (
                <div key={p.label}>
                  <span className="num">{said(p.length_mm + p.left_long_mm, "mm", 5).said}</span> {p.label}
                </div>
              ))}
            </td>
            <td className="small">
              {c.packing?.cuts.map((cut) => (
                <div key={cut.roll.key}>
                  <span className="num">{said(cut.roll.length_mm, "mm", 5).said}</span>:{" "}
                  {cut.pieces.map((p) => p.label).join(", ")}
                </div>
              ))}
              {c.says && <span className={c.packing ? "signal" : "quiet"}>{c.says}</span>}
            </td>
            <Num>
              {c.packing?.cuts.map((cut) => said(Math.max(0, cut.leftover_mm), "mm", 4).said).join(", ")}
            </Num>
            <td>
              <span className="no-print">
                <Length
                  key={lengths.length}
                  label="A length to buy"
                  name={`length of ${c.of}`}
                  onValue={(v) => setLong({ ...long, [c.of]: v })}
                />
                <Act
                  aria-label={`Buy ${c.of} in that length`}
                  disabled={!long[c.of]}
                  onClick={() =>
                    save(
                      (plan) => ({
                        lengths: [
                          ...plan.lengths,
                          { id: newKey(6), of: c.of, length_mm: long[c.of] ?? 0, count: 4 },
                        ],
                      }),
                      { onSuccess: () => (sent(`length of ${c.of}`), setLong({ ...long, [c.of]: null })) },
                    )
                  }
                >
                  Can be bought
                </Act>
                {lengths.some((x) => x.of === c.of) && (
                  <Act
                    plain
                    aria-label={`Forget the lengths of ${c.of}`}
                    onClick={() => save((plan) => ({ lengths: plan.lengths.filter((x) => x.of !== c.of) }))}
                  >
                    forget them
                  </Act>
                )}
              </span>
            </td>
          </tr>
        ))}
      </Table>
    </Sheet>
  );
}

export function Supplies({ machine }: { machine: MachineAnswer }) {
  const { supplies } = machine.report;
  if (supplies.length === 0) return null;
  return (
    <Sheet
      title="Supplies and drivers"
      note="one supply for all motors of one voltage; a third of room on it (common practice, from memory)"
      data-supplies
    >
      <Table
        columns={[
          { name: "Supply, V", right: true },
          "For",
          "Drivers",
          { name: "all drive at once, W", right: true },
          { name: "A", right: true },
          { name: "take one of, W", right: true },
        ]}
      >
        {supplies.map((s) => (
          <tr key={s.volts}>
            <Num>{number(s.volts)}</Num>
            <td>{s.axes.join(", ")}</td>
            <td className="small">
              {(s.drivers ?? []).length > 0
                ? s.drivers.map((d) => <div key={d}>{d}</div>)
                : `${s.motors} motors`}
            </td>
            <Num>{s.power_w === null ? "not known" : number(s.power_w)}</Num>
            <Num>{s.amps === null ? "" : number(s.amps)}</Num>
            <Num>{s.buy_w === null ? "see the motor's sheet" : number(s.buy_w)}</Num>
          </tr>
        ))}
      </Table>
      <p className="small quiet">
        Each axis' bill counts a supply of its own; of one bought for all, the parcel's price counts. Mains
        wiring by a licensed person where your code says so.
      </p>
    </Sheet>
  );
}
