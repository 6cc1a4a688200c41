/** What a machine's axes need together, how far each thing has come, what was paid when, and what is cut from what. */
import { useState } from "react";
import { BASE, type MachineAnswer, type Purchase } from "../api/client";
import { useStart } from "../api/queries";
import { FreeNumber } from "../fields/FreeNumber";
import { Act, ActLink } from "../kit/Act";
import { Day, Pick, Tick, Words } from "../kit/inputs";
import { Acts, Fields, Fig, Figs, Fold, Line, Num, Sheet, Table } from "../kit/sheets";
import { today } from "../steps/log/today";
import { about, money, number } from "../units/format";
import { usePlan, useSaid } from "./plan";
import css from "./machine.module.css";

type OrderLine = MachineAnswer["report"]["lines"][number];

const STATES: Record<OrderLine["state"], string> = {
  here: "here",
  checked: "arrived, checked",
  arrived: "arrived, not checked",
  due: "due",
  ordered: "ordered",
  wanted: "to order",
};

const amount = (typed: string) => {
  const value = Number(typed.replace(",", "."));
  return typed.trim() !== "" && Number.isFinite(value) && value >= 0 ? value : null;
};

export function OrderList({ machine }: { machine: MachineAnswer }) {
  const { lines, money: sum, work } = machine.report;
  const places = new Map(work.map((w) => [w.step.key, w.number]));
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const picked = lines.filter((x) => chosen.includes(x.line));
  return (
    <Sheet
      title="Order list"
      note="of all axes; tick what is ordered together: a kit, a pack, one parcel"
      data-lines
    >
      <Table
        columns={[
          { name: "", width: 44 },
          "Part",
          "Axis",
          { name: "How many", right: true },
          { name: "Together", right: true },
          "How it stands",
        ]}
      >
        {lines.map((x) => (
          <tr key={x.line} data-line={x.line} data-state={x.state}>
            <td>
              {x.state === "wanted" && (
                <Tick
                  bare
                  label={`Order ${x.what} of ${x.axis}`}
                  on={chosen.includes(x.line)}
                  onValue={(on) => setChosen(on ? [...chosen, x.line] : chosen.filter((l) => l !== x.line))}
                />
              )}
            </td>
            <td>
              {x.what} <span className="small quiet">{x.detail}</span>
            </td>
            <td className="small">{x.axis}</td>
            <Num>
              {number(x.quantity, 4)} {x.unit}
            </Num>
            <Num>{x.total === null ? "no price yet" : about(x.total, sum.currency, x.typical)}</Num>
            <td className={x.late ? "small signal" : "small"}>
              {STATES[x.state]}
              {x.state === "ordered" && x.ordered && ` on ${x.ordered}`}
              {x.state === "due" && ` on ${x.due}${x.late ? ", late" : ""}`}
              {!["here", "checked", "arrived"].includes(x.state) && x.for_step && (
                <span className="quiet"> · step {places.get(x.for_step)} waits for it</span>
              )}
              {x.state === "wanted" &&
                x.came + x.coming > 0 &&
                `, ${number(x.quantity - x.came - x.coming, 4)} more${x.coming > 0 && x.due ? `; others due ${x.due}` : ""}`}
            </td>
          </tr>
        ))}
      </Table>
      {picked.length > 0 && <OrderThem machine={machine} lines={picked} onDone={() => setChosen([])} />}
      <Shops machine={machine} />
    </Sheet>
  );
}

/** Where parts come from, how long that takes, and what it costs. */
function Shops({ machine }: { machine: MachineAnswer }) {
  const { save, busy } = usePlan(machine);
  const { currency } = machine.report.money;
  const shops = machine.plan.shops ?? [];
  const [name, setName] = useState("");
  const [days, setDays] = useState("");
  const [freight, setFreight] = useState("");
  const takes = /^\d{1,3}$/.test(days.trim()) ? Number(days) : null;
  const costs = freight === "" ? 0 : amount(freight);
  const known = shops.some((s) => s.name === name.trim());
  const add = () =>
    save(
      (plan) => ({
        shops: [
          ...plan.shops.filter((s) => s.name !== name.trim()),
          { name: name.trim(), days: takes ?? 0, freight: costs ?? 0 },
        ],
      }),
      { onSuccess: () => (setName(""), setDays(""), setFreight("")) },
    );
  return (
    <Fold
      title="Shops, and how long they take"
      says={
        shops.length > 0
          ? shops.map((s) => `${s.name} ${s.days} ${s.days === 1 ? "day" : "days"}`).join(", ")
          : "none yet"
      }
    >
      {() => (
        <>
          <ul className={css.plain}>
            {shops.map((s) => (
              <li key={s.name} data-shop={s.name}>
                {s.name}{" "}
                <span className="small quiet">
                  {s.days} {s.days === 1 ? "day" : "days"}, ordered today here on {machine.comes[s.name]};
                  freight {money(s.freight ?? 0, currency)}
                </span>{" "}
                <Act
                  plain
                  aria-label={`Forget ${s.name}`}
                  onClick={() => save((plan) => ({ shops: plan.shops.filter((o) => o.name !== s.name) }))}
                >
                  forget it
                </Act>
              </li>
            ))}
          </ul>
          <Fields>
            <Words label="Shop" value={name} most={80} onValue={setName} />
            <Words
              label="Days until it comes"
              figures
              value={days}
              error={days && takes === null ? "Whole days, up to 400." : undefined}
              onValue={setDays}
            />
            <Words
              label="Freight of a parcel"
              figures
              unit={currency}
              value={freight}
              placeholder="0.00"
              error={costs === null ? "An amount, not less than nothing." : undefined}
              onValue={setFreight}
            />
          </Fields>
          <Line foot>
            <Act
              disabled={!name.trim() || takes === null || takes > 400 || costs === null}
              busy={busy}
              onClick={add}
            >
              {known ? "Change this shop" : "Add this shop"}
            </Act>
          </Line>
        </>
      )}
    </Fold>
  );
}

function OrderThem({
  machine,
  lines,
  onDone,
}: {
  machine: MachineAnswer;
  lines: readonly OrderLine[];
  onDone: () => void;
}) {
  const { save, busy } = usePlan(machine);
  const asked = lines.reduce((all, x) => all + (x.to_spend ?? 0), 0);
  const [what, setWhat] = useState("");
  const [price, setPrice] = useState("");
  const [freight, setFreight] = useState("");
  const [due, setDue] = useState("");
  const [from, setFrom] = useState("");
  const shops = machine.plan.shops ?? [];
  const shop = shops.find((s) => s.name === from);
  const costs = price === "" ? Number(asked.toFixed(2)) : amount(price);
  const ships = freight === "" ? (shop?.freight ?? 0) : amount(freight);
  const comes = due || machine.comes[from] || "";
  const name = what || lines.map((x) => x.what).join(", ");
  const order = () => {
    if (costs === null || ships === null) return;
    const purchase = {
      what: name.slice(0, 200),
      shares: lines.map((x) => ({ line: x.line, quantity: x.quantity - x.came - x.coming })),
      price: costs,
      freight: ships,
      shop: from,
      ordered: today(),
      due: comes,
    };
    save((plan) => ({ bought: [...plan.bought, purchase as Purchase] }), { onSuccess: onDone });
  };
  return (
    <>
      <Fields>
        <Words label="As one order" value={what} placeholder={name} most={200} onValue={setWhat} />
        <Words
          label="Price of it all"
          figures
          value={price}
          placeholder={asked.toFixed(2)}
          unit={machine.report.money.currency}
          error={costs === null ? "A price, not less than nothing." : undefined}
          onValue={setPrice}
        />
        <Words
          label="Freight"
          figures
          value={freight}
          placeholder={(shop?.freight ?? 0).toFixed(2)}
          unit={machine.report.money.currency}
          error={ships === null ? "An amount, not less than nothing." : undefined}
          onValue={setFreight}
        />
        {shops.length > 0 && (
          <Pick
            label="From"
            value={from}
            options={[
              { value: "", label: "anywhere" },
              ...shops.map((s) => ({ value: s.name, label: s.name })),
            ]}
            onValue={setFrom}
          />
        )}
        <Day label="Due on" value={comes} onValue={setDue} />
      </Fields>
      <Line foot>
        <Act main big busy={busy} disabled={costs === null || ships === null} onClick={order}>
          Ordered today
        </Act>
        <span className="small quiet">
          {lines.length === 1 ? "One line" : `${lines.length} lines`}; its price is shared out by what each
          costs.
        </span>
      </Line>
    </>
  );
}

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
        {bought.map((p, i) => (
          <tr key={`${p.what} ${i}`} data-parcel={i}>
            <td>
              {p.what}
              {p.shop && <span className="small quiet"> from {p.shop}</span>}
              {p.spare && <span className="small quiet"> · spare</span>}
            </td>
            <td className="small quiet">
              {(p.shares ?? []).map((s) => lines.get(s.line) ?? s.line).join("; ") || "the machine"}
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
                  <Act aria-label={`${p.what} arrived`} onClick={() => change(i, { arrived: today() })}>
                    Arrived
                  </Act>
                )}
                {p.arrived && !p.checked && (
                  <Act aria-label={`${p.what} checked`} onClick={() => change(i, { checked: true })}>
                    Checked
                  </Act>
                )}
                {p.arrived && (
                  <Act
                    plain
                    aria-label={`${p.what} has not arrived`}
                    onClick={() => change(i, { arrived: "", checked: false })}
                  >
                    not yet
                  </Act>
                )}
                <Act
                  plain
                  aria-label={`Take ${p.what} out`}
                  onClick={() => save((plan) => ({ bought: plan.bought.filter((_, j) => j !== i) }))}
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
  const { save } = usePlan(machine);
  const m = machine.report.money;
  const [budget, setBudget] = useState<string | null>(null);
  const [what, setWhat] = useState("");
  const [price, setPrice] = useState("");
  const [spare, setSpare] = useState(false);
  const pay = () =>
    save(
      (plan) => ({
        bought: [
          ...plan.bought,
          {
            what: what.trim(),
            shares: [],
            price: amount(price) ?? 0,
            ordered: today(),
            spare,
          } as unknown as Purchase,
        ],
      }),
      { onSuccess: () => (setWhat(""), setPrice("")) },
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
          value={budget ?? (m.budget === null ? "" : String(m.budget))}
          onValue={setBudget}
          error={budget !== null && budget !== "" && amount(budget) === null ? "An amount." : undefined}
        />
        {budget !== null && (
          <Act
            onClick={() =>
              save(() => ({ budget: budget === "" ? null : amount(budget) }), {
                onSuccess: () => setBudget(null),
              })
            }
          >
            Keep it
          </Act>
        )}
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
            <Words label="What" value={what} most={200} onValue={setWhat} roomy />
            <Words
              label="Price"
              figures
              unit={m.currency}
              value={price}
              onValue={setPrice}
              error={price && amount(price) === null ? "An amount." : undefined}
            />
            <Tick label="a spare" on={spare} onValue={setSpare} />
            <Act disabled={!what.trim() || amount(price) === null} onClick={pay}>
              Paid today
            </Act>
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
  const start = useStart();
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
                <FreeNumber
                  key={lengths.length}
                  label="A length to buy"
                  dimension="length"
                  name={`length of ${c.of}`}
                  units={start.data?.units ?? {}}
                  onValue={(v) => setLong({ ...long, [c.of]: v })}
                />
                <Act
                  aria-label={`Buy ${c.of} in that length`}
                  disabled={!long[c.of]}
                  onClick={() =>
                    save(
                      (plan) => ({
                        lengths: [...plan.lengths, { of: c.of, length_mm: long[c.of] ?? 0, count: 4 }],
                      }),
                      { onSuccess: () => setLong({ ...long, [c.of]: null }) },
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
