/** The parts drawer: what there is, what it costs, where its data come from. */
import { useMemo, useState } from "react";
import { act, ask, Refusal, type DrawerRow, type Intake } from "../api/client";
import { anew, client, useBringBack, useChange, useDrawer, useForm, useStart } from "../api/queries";
import { useSystem } from "../design/context";
import { laid } from "../design/merge";
import { useDraft } from "../design/typed";
import { PageTop, Plain } from "../frame/Plain";
import { Act } from "../kit/Act";
import { Fetched } from "../kit/Fetched";
import { Cell, Pick, Words } from "../kit/inputs";
import { Unsent } from "../kit/Unsent";
import { Notice } from "../kit/Notice";
import { Acts, Line, Table } from "../kit/sheets";
import { counted, quantity } from "../units/format";
import { BringBack, TakenIn } from "./BringBack";
import { DrawerFile } from "./DrawerFile";
import { WhichBelt } from "./WhichBelt";
import { Unknown } from "./Unknown";

export default function Drawer() {
  const drawer = useDrawer();
  const start = useStart().data;
  const words = start?.drawer ?? { kinds: {}, data: {} };
  const [system] = useSystem();
  // Its numbers in the chosen units, the most telling first.
  const tell = (row: DrawerRow) =>
    Object.entries(words.data)
      .flatMap(([name, { says, unit }]): string[] => {
        const value = row.data[name];
        if (value === null || value === undefined || value === "") return [];
        if (typeof value !== "number" || !start) return [`${says} ${String(value)}`];
        const got = quantity(value, unit, start.units, system, 4);
        return [`${says} ${got.text}${got.unit && ` ${got.unit}`}`.replaceAll(" ", "\u00a0")];
      })
      .slice(0, 6)
      .join(" · ");
  const [kind, setKind] = useState("");
  const [search, setSearch] = useState("");
  const [taken, setTaken] = useState<Intake | null>(null);
  const [wanted, setGone] = useState<DrawerRow[]>([]);
  const here = useMemo(() => new Set((drawer.data ?? []).map((r) => r.key)), [drawer.data]);
  const gone = wanted.filter((r) => !here.has(r.key)); // what came back by another way is not told of
  const take = useChange(
    (rows: DrawerRow[]) => act("/drawer/out", { body: { keys: rows.map((r) => r.key) } }),
    "drawer",
  );
  const back = useBringBack();
  const takeOut = (out: DrawerRow[]) => take.mutate(out, { onSuccess: () => setGone(out) });
  const kinds = useMemo(() => [...new Set((drawer.data ?? []).map((r) => r.kind))], [drawer.data]);
  const sought = search.toLowerCase().split(/\s+/).filter(Boolean);
  const narrowed = sought.length > 0 || kind !== "";
  const rows = (drawer.data ?? []).filter(
    (r) => (!kind || r.kind === kind) && sought.every((w) => r.name.toLowerCase().includes(w)),
  );
  return (
    <Plain>
      <PageTop
        title="Parts drawer"
        says="What you have comes first. The rest is the starter catalogue: generic sizes, typical values, each with its source; what your part's label says counts. ≈ is what one costs as a rule, € of 2026: type yours over it."
      >
        <Pick
          label="Kind"
          value={kind}
          options={[
            { value: "", label: "everything" },
            ...kinds.map((k) => ({ value: k, label: words.kinds[k] ?? k })),
          ]}
          onValue={setKind}
        />
        <Words label="Search" value={search} onValue={setSearch} />
        <Line>
          <Unknown />
          <WhichBelt />
          <DrawerFile taken={setTaken} />
          <BringBack />
        </Line>
      </PageTop>
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
      <Fetched of={drawer} what="the parts drawer">
        {() =>
          rows.length === 0 ? (
            <p className="quiet">Nothing by that name. Clear the search to see everything.</p>
          ) : (
            <>
              <Table
                columns={[
                  "Part",
                  "Data",
                  "Source",
                  { name: "How many", right: true, width: 110 },
                  { name: "Price each", right: true, width: 110 },
                  {
                    name: narrowed && rows.length > 1 && (
                      <Act busy={take.isPending} onClick={() => takeOut(rows)}>
                        Take all {rows.length} out
                      </Act>
                    ),
                    right: true,
                    width: 92,
                  },
                ]}
              >
                {rows.slice(0, SHOWN).map((r) => (
                  <Row key={r.key} row={r} told={tell(r)} takeOut={() => takeOut([r])} />
                ))}
              </Table>
              {rows.length > SHOWN && (
                <p className="quiet small">{rows.length - SHOWN} more; narrow the search.</p>
              )}
            </>
          )
        }
      </Fetched>
    </Plain>
  );
}

const SHOWN = 200;

interface Typed {
  quantity?: string;
  price?: string;
}
interface Put {
  quantity: number;
  price: number | null;
}

/** On top of what stands; where another window has set the other of the two meanwhile, that stays. */
async function put(row: DrawerRow, mine: Put) {
  const save = (now: DrawerRow, body: Put) =>
    act(`/drawer/${encodeURIComponent(row.key)}`, {
      method: "PUT",
      body: { base_version: now.version, ...body },
    });
  try {
    return await save(row, mine);
  } catch (error) {
    if (!(error instanceof Refusal) || error.status !== 409) throw error;
    const now = (await ask<DrawerRow[]>("/drawer")).find((r) => r.key === row.key);
    const of = ({ quantity, price }: DrawerRow): Put => ({ quantity, price });
    const over = now && laid(of(row), mine, of(now));
    if (!over || over.clashes.length > 0) throw error;
    return save(now, over.made);
  }
}

function Row({ row, told, takeOut }: { row: DrawerRow; told: string; takeOut: () => void }) {
  const draft = useDraft<Typed>(`row ${row.key}`, {});
  const typed = draft.typed ? draft.value : null;
  const save = useForm((mine: Put) => put(row, mine), "drawer");
  const quantity = typed?.quantity ?? String(row.quantity);
  const price = typed?.price ?? (row.price === null ? "" : String(row.price));
  const count = Number(quantity);
  const cost = price.trim() === "" ? null : Number(price.replace(",", "."));
  const badCount = !/^\d{1,6}$/.test(quantity.trim());
  const badCost = cost !== null && (!Number.isFinite(cost) || cost < 0);
  const other = save.error instanceof Refusal && save.error.status === 409;
  const keepMine = () =>
    save.mutate(
      { quantity: count, price: cost },
      {
        onSuccess: draft.drop,
        onError: () => void anew(client, "drawer"),
      },
    );
  const keep = () => {
    if (badCount || badCost || !typed || other) return;
    if (count !== row.quantity || cost !== row.price) keepMine();
    else draft.drop();
  };
  const drop = () => {
    save.reset();
    draft.drop();
  };
  return (
    <tr data-row={row.key}>
      <td>
        {row.name}
        <Unsent of={draft} what={`what is typed of ${row.name}`} />
        {row.unused && <div className="small quiet">Not used in a search: {row.unused}.</div>}
        {other ? (
          <div className="signal small" role="alert">
            Another window set {row.quantity} here{row.price === null ? "" : ` at ${row.price}`}; yours is
            kept until you decide.
            <Line>
              <Act main onClick={keepMine}>
                Keep mine
              </Act>
              <Act onClick={drop}>Take the other</Act>
            </Line>
          </div>
        ) : (
          save.error && (
            <div className="signal small" role="alert">
              Not saved: {save.error.message} <Act onClick={keepMine}>Try again</Act>
            </div>
          )
        )}
      </td>
      <td className="small num quiet">{told}</td>
      <td className="small quiet" title={row.source}>
        {row.source_kind}
      </td>
      <Acts>
        <Cell
          label={`How many ${row.name}`}
          value={quantity}
          error={badCount ? "0 or more" : ""}
          onValue={(v) => draft.set({ quantity: v })}
          onLeave={keep}
        />
      </Acts>
      <Acts>
        <Cell
          label={`Price of ${row.name}`}
          value={price}
          error={badCost ? "0 or more" : ""}
          hint={typeof row.typical !== "number" ? "–" : `≈ ${row.typical}`}
          onValue={(v) => draft.set({ price: v })}
          onLeave={keep}
        />
      </Acts>
      <Acts>
        <Act plain aria-label={`Take ${row.name} out`} onClick={takeOut}>
          Take out
        </Act>
      </Acts>
    </tr>
  );
}
