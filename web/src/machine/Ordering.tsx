/** What all axes of a machine need, ordered together, and the shops that it comes from. */
import { type MachineAnswer, type Purchase } from "../api/client";
import { newKey } from "../api/keys";
import { useDraft } from "../design/typed";
import { Act } from "../kit/Act";
import { Day, Pick, Tick, Words } from "../kit/inputs";
import { Unsent } from "../kit/Unsent";
import { Fields, Fold, Line, Num, Sheet, Table } from "../kit/sheets";
import { today } from "../steps/log/today";
import { about, money, number } from "../units/format";
import { amount, usePlan } from "./plan";
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

export function OrderList({ machine }: { machine: MachineAnswer }) {
  const { lines, money: sum, work } = machine.report;
  const places = new Map(work.map((w) => [w.step.key, w.number]));
  const ticked = useDraft("ordered together", { lines: [] as readonly string[] });
  const chosen = ticked.value.lines;
  const setChosen = (lines: readonly string[]) => (lines.length > 0 ? ticked.set({ lines }) : ticked.drop());
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
  const draft = useDraft("shop", { name: "", days: "", freight: "" });
  const { name, days, freight } = draft.value;
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
      { onSuccess: draft.drop },
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
            <Words label="Shop" value={name} most={80} onValue={(v) => draft.set({ name: v })} />
            <Words
              label="Days until it comes"
              figures
              value={days}
              error={days && takes === null ? "Whole days, up to 400." : undefined}
              onValue={(v) => draft.set({ days: v })}
            />
            <Words
              label="Freight of a parcel"
              figures
              unit={currency}
              value={freight}
              placeholder="0.00"
              error={costs === null ? "An amount, not less than nothing." : undefined}
              onValue={(v) => draft.set({ freight: v })}
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
            <Unsent of={draft} what="what is typed" />
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
  // With an id of its own: pressed again it is the same parcel.
  const draft = useDraft("order", { id: newKey(6), what: "", price: "", freight: "", due: "", from: "" });
  const { id, what, price, freight, due, from } = draft.value;
  const shops = machine.plan.shops ?? [];
  const shop = shops.find((s) => s.name === from);
  const costs = price === "" ? Number(asked.toFixed(2)) : amount(price);
  const ships = freight === "" ? (shop?.freight ?? 0) : amount(freight);
  const comes = due || machine.comes[from] || "";
  const name = what || lines.map((x) => x.what).join(", ");
  const order = () => {
    if (costs === null || ships === null) return;
    const purchase = {
      id,
      what: name.slice(0, 200),
      shares: lines.map((x) => ({ line: x.line, quantity: x.quantity - x.came - x.coming })),
      price: costs,
      freight: ships,
      shop: from,
      ordered: today(),
      due: comes,
    };
    save((plan) => ({ bought: [...plan.bought, purchase as Purchase] }), {
      onSuccess: () => (draft.drop(), onDone()),
    });
  };
  return (
    <>
      <Fields>
        <Words
          label="As one order"
          value={what}
          placeholder={name}
          most={200}
          onValue={(v) => draft.set({ what: v })}
        />
        <Words
          label="Price of it all"
          figures
          value={price}
          placeholder={asked.toFixed(2)}
          unit={machine.report.money.currency}
          error={costs === null ? "A price, not less than nothing." : undefined}
          onValue={(v) => draft.set({ price: v })}
        />
        <Words
          label="Freight"
          figures
          value={freight}
          placeholder={(shop?.freight ?? 0).toFixed(2)}
          unit={machine.report.money.currency}
          error={ships === null ? "An amount, not less than nothing." : undefined}
          onValue={(v) => draft.set({ freight: v })}
        />
        {shops.length > 0 && (
          <Pick
            label="From"
            value={from}
            options={[
              { value: "", label: "anywhere" },
              ...shops.map((s) => ({ value: s.name, label: s.name })),
            ]}
            onValue={(v) => draft.set({ from: v })}
          />
        )}
        <Day label="Due on" value={comes} onValue={(v) => draft.set({ due: v })} />
      </Fields>
      <Line foot>
        <Act main big busy={busy} disabled={costs === null || ships === null} onClick={order}>
          Ordered today
        </Act>
        <Unsent of={draft} what="what is typed" />
        <span className="small quiet">
          {lines.length === 1 ? "One line" : `${lines.length} lines`}; its price is shared out by what each
          costs.
        </span>
      </Line>
    </>
  );
}
