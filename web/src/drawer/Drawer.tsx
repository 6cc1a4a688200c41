/** The parts drawer: what there is, what it costs, where its data come from. */
import { useMemo, useState } from "react";
import { Button } from "@mantine/core";
import { ask, Refusal, type DrawerRow, type Intake } from "../api/client";
import { client, useBringBack, useChange, useDrawer, useStart } from "../api/queries";
import { BringBack, TakenIn } from "./BringBack";
import { DrawerFile } from "./DrawerFile";
import { Unknown } from "./Unknown";
import { Plain } from "../frame/Plain";
import { Notice } from "../kit/Notice";
import { counted, number } from "../units/format";

export default function Drawer() {
  const drawer = useDrawer();
  const words = useStart().data?.drawer ?? { kinds: {}, data: {} };
  const [kind, setKind] = useState("");
  const [search, setSearch] = useState("");
  const [taken, setTaken] = useState<Intake | null>(null);
  const [wanted, setGone] = useState<DrawerRow[]>([]);
  const here = useMemo(() => new Set((drawer.data ?? []).map((r) => r.key)), [drawer.data]);
  const gone = wanted.filter((r) => !here.has(r.key)); // what came back by another way is not told of
  const take = useChange(
    (rows: DrawerRow[]) => ask("/drawer/out", { body: { keys: rows.map((r) => r.key) } }),
    "drawer",
    "belt",
  );
  const back = useBringBack();
  const takeOut = (out: DrawerRow[]) => take.mutate(out, { onSuccess: () => setGone(out) });
  const kinds = useMemo(() => [...new Set((drawer.data ?? []).map((r) => r.kind))], [drawer.data]);
  const sought = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = (drawer.data ?? []).filter(
    (r) => (!kind || r.kind === kind) && sought.every((w) => r.name.toLowerCase().includes(w)),
  );
  return (
    <Plain>
      <div style={{ display: "flex", alignItems: "end", gap: 18, marginBottom: 14, flexWrap: "wrap" }}>
        <h1 style={{ fontSize: 24, fontWeight: 600 }}>Parts drawer</h1>
        <p className="quiet small" style={{ flex: "1 1 300px" }}>
          What you have comes first. The rest is the starter catalogue: generic sizes, typical values, each
          with its source; what your part's label says counts.
        </p>
        <div className="field" style={{ width: 170 }}>
          <label className="name" htmlFor="drawer-kind">
            Kind
          </label>
          <div className="box">
            <select id="drawer-kind" value={kind} onChange={(e) => setKind(e.target.value)}>
              <option value="">everything</option>
              {kinds.map((k) => (
                <option key={k} value={k}>
                  {words.kinds[k] ?? k}
                </option>
              ))}
            </select>
          </div>
        </div>
        <div className="field text" style={{ width: 220 }}>
          <label className="name" htmlFor="drawer-search">
            Search
          </label>
          <div className="box">
            <input id="drawer-search" value={search} onChange={(e) => setSearch(e.target.value)} />
          </div>
        </div>
        <span style={{ display: "flex", gap: 8, alignItems: "center" }}>
          <Unknown />
          <DrawerFile taken={setTaken} />
          <BringBack />
        </span>
      </div>
      {taken && <TakenIn key={taken.id} step={taken} close={() => setTaken(null)} />}
      {gone.length > 0 && (
        <Notice
          title={
            gone.length === 1
              ? `“${gone[0]!.name}” is out of the drawer`
              : `${counted(gone.length, "row is", "rows are")} out of the drawer`
          }
          grave={false}
          actions={[
            {
              says: gone.length === 1 ? "Bring it back" : "Bring them back",
              main: true,
              busy: back.isPending,
              run: () =>
                back.mutate(
                  gone.map((r) => r.key),
                  { onSuccess: () => setGone([]) },
                ),
            },
            { says: "Close", run: () => setGone([]) },
          ]}
        >
          {gone.length === 1 ? "It is" : "They are"} no longer proposed or counted; nothing was deleted.
        </Notice>
      )}
      {(take.error ?? back.error) && (
        <Notice title="That did not work">{(take.error ?? back.error)!.message}</Notice>
      )}
      {drawer.error && <Notice title="The drawer cannot be shown">{drawer.error.message}</Notice>}
      <table>
        <thead>
          <tr>
            <th>Part</th>
            <th>Data</th>
            <th>Source</th>
            <th className="r" style={{ width: 110 }}>
              How many
            </th>
            <th className="r" style={{ width: 110 }}>
              Price each
            </th>
            <th className="r" style={{ width: 92 }}>
              {sought.length + (kind ? 1 : 0) > 0 && rows.length > 1 && (
                <Button
                  size="compact-xs"
                  variant="default"
                  loading={take.isPending}
                  onClick={() => takeOut(rows)}
                >
                  Take all {rows.length} out
                </Button>
              )}
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 250).map((r) => (
            <Row key={r.key} row={r} words={words.data} takeOut={() => takeOut([r])} />
          ))}
        </tbody>
      </table>
      {rows.length > 250 && (
        <p className="quiet small" style={{ padding: 8 }}>
          {rows.length - 250} more; narrow the search.
        </p>
      )}
      {drawer.data && rows.length === 0 && (
        <p className="quiet" style={{ padding: 8 }}>
          Nothing by that name. Clear the search to see everything.
        </p>
      )}
    </Plain>
  );
}

interface Typed {
  quantity: string;
  price: string;
}

function Row({
  row,
  words,
  takeOut,
}: {
  row: DrawerRow;
  words: Record<string, string>;
  takeOut: () => void;
}) {
  const [typed, setTyped] = useState<Typed | null>(null);
  const save = useChange(
    (body: { base_version: number; quantity: number; price: number | null }) =>
      ask(`/drawer/${encodeURIComponent(row.key)}`, { method: "PUT", body }),
    "drawer",
  );
  const stored: Typed = {
    quantity: String(row.quantity),
    price: row.price === null ? "" : String(row.price),
  };
  const { quantity, price } = typed ?? stored;
  const count = Number(quantity);
  const cost = price.trim() === "" ? null : Number(price.replace(",", "."));
  const badCount = !/^\d{1,6}$/.test(quantity.trim());
  const badCost = cost !== null && (!Number.isFinite(cost) || cost < 0);
  const other = save.error instanceof Refusal && save.error.status === 409;
  const put = () =>
    save.mutate(
      { base_version: row.version, quantity: count, price: cost },
      {
        onSuccess: () => setTyped(null),
        onError: () => void client.invalidateQueries({ queryKey: ["drawer"] }),
      },
    );
  const keep = () => {
    if (badCount || badCost || !typed || other) return;
    if (count !== row.quantity || cost !== row.price) put();
    else setTyped(null);
  };
  const drop = () => {
    save.reset();
    setTyped(null);
  };
  const told = Object.entries(words).flatMap(([name, says]): string[] => {
    const value = row.data[name];
    return value === null || value === undefined || value === ""
      ? []
      : [`${typeof value === "number" ? number(value, 4) : String(value)} ${says}`];
  });
  const data = told.slice(0, 6).join(" · ");
  return (
    <tr data-row={row.key}>
      <td>
        {row.name}
        {other ? (
          <div className="signal small" role="alert">
            Another window set {row.quantity} here{row.price === null ? "" : ` at ${row.price}`}; yours is
            kept until you decide.
            <span style={{ display: "flex", gap: 8, marginTop: 4 }}>
              <Button onClick={put}>Keep mine</Button>
              <Button variant="default" onClick={drop}>
                Take the other
              </Button>
            </span>
          </div>
        ) : (
          save.error && (
            <div className="signal small" role="alert">
              Not saved: {save.error.message}{" "}
              <Button variant="default" onClick={put}>
                Try again
              </Button>
            </div>
          )
        )}
      </td>
      <td className="small num quiet">{data}</td>
      <td className="small quiet" title={row.source}>
        {row.source_kind}
      </td>
      <td className="r">
        <div className={`field ${badCount ? "bad" : ""}`}>
          <div className="box">
            <input
              className="r"
              aria-label={`How many ${row.name}`}
              value={quantity}
              onChange={(e) => setTyped({ quantity: e.target.value, price })}
              onBlur={keep}
            />
            {badCount && <span className="unit">0 or more</span>}
          </div>
        </div>
      </td>
      <td className="r">
        <div className={`field ${badCost ? "bad" : ""}`}>
          <div className="box">
            <input
              aria-label={`Price of ${row.name}`}
              value={price}
              placeholder="–"
              onChange={(e) => setTyped({ quantity, price: e.target.value })}
              onBlur={keep}
            />
          </div>
        </div>
      </td>
      <td className="r">
        <Button size="compact-xs" variant="subtle" aria-label={`Take ${row.name} out`} onClick={takeOut}>
          Take out
        </Button>
      </td>
    </tr>
  );
}
