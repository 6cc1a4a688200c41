/** Takes a part from the drawer into the design: the program says what that sets, the whole part and what follows from it. */
import { useMemo, useState } from "react";
import { ask, type DrawerRow, type Taken } from "../api/client";
import { useDrawer, useForm, useStart } from "../api/queries";
import { useBench, usePick, useShow, useView } from "../design/context";
import { modelAt } from "../design/fields";
import { getAt } from "../design/path";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Fetched } from "../kit/Fetched";
import { Words } from "../kit/inputs";
import { Failed, Notice } from "../kit/Notice";
import { walkRows } from "../kit/rows";
import { Acts, Num, Table, type Column } from "../kit/sheets";
import { about } from "../units/format";
import { figuresOf, priceOf, sortedBy, type Figure } from "./picking";
import { capital } from "../units/words";

const SHOWN = 120;

/** The kind of drawer row that goes to a place of the design, if any does; the program says which go where. */
function useRowKind(path: string): string | undefined {
  const { session, start } = useBench();
  usePick((v) => (getAt(v.design, path) as { kind?: string } | undefined)?.kind);
  return start.takes[modelAt(start.design_schema, session.get().design, path)];
}

/** "Pulley from the drawer", where the part at a path can be taken from there. */
export function PartPicker({ path }: { path: string }) {
  const kind = useRowKind(path);
  return kind ? <Picker key={kind} kind={kind} path={path} /> : null;
}

function Picker({ kind, path }: { kind: string; path: string }) {
  const { session } = useBench();
  const [open, setOpen] = useState(false);
  const [assumed, setAssumed] = useState<readonly string[]>([]);
  const taking = useForm((row: DrawerRow) =>
    ask<Taken>("/take", { body: { design: session.get().design, at: path, key: row.key } }),
  );
  const take = (row: DrawerRow) =>
    taking.mutate(row, {
      onSuccess: (taken) => {
        session.setAll(taken.changes, "", taken.chosen);
        setAssumed(taken.assumed);
        setOpen(taken.assumed.length > 0);
      },
    });
  const close = () => {
    setOpen(false);
    setAssumed([]);
  };
  const label = `${capital(kind)} from the drawer`;
  return (
    <>
      <Act onClick={() => setOpen(true)}>{label}</Act>
      <Dialog opened={open} close={close} title={label} wide={860}>
        {assumed.length > 0 ? (
          <Notice
            title="Taken, with some data assumed"
            grave={false}
            actions={[{ says: "Good", main: true, run: close }]}
          >
            Its row in the drawer does not state: <b>{assumed.join(", ")}</b>. The usual value stands there
            instead; correct it by the part's label or by measuring.
          </Notice>
        ) : (
          <>
            <Failed of={taking.error} title="That part cannot be taken" />
            <Rows kind={kind} path={path} take={take} taking={taking.isPending ? taking.variables.key : ""} />
          </>
        )}
      </Dialog>
    </>
  );
}

/** The rows of one kind that fit, with the numbers one picks by; the arrow keys go from row to row. */
function Rows({
  kind,
  path,
  take,
  taking,
}: {
  kind: string;
  path: string;
  take: (row: DrawerRow) => void;
  taking: string;
}) {
  const { design } = useView();
  const show = useShow();
  const words = useStart().data?.drawer;
  const drawer = useDrawer();
  const [search, setSearch] = useState("");
  const [by, setBy] = useState("");
  const holder = path
    .split(".")
    .slice(0, path.startsWith("chain.") ? 2 : 1)
    .join(".");
  const profile = getAt(design, `${holder}.belt.profile`);
  const fitting = useMemo(() => {
    const sought = search.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (r: DrawerRow) =>
      !["pulley", "idler"].includes(kind) || r.data.kind === "smooth" || r.data.profile === profile;
    return (drawer.data ?? []).filter(
      (r) => r.kind === kind && fits(r) && sought.every((w) => r.name.toLowerCase().includes(w)),
    );
  }, [drawer.data, kind, profile, search]);
  const figures = useMemo(() => figuresOf(fitting, words?.data ?? {}), [fitting, words]);
  const chosen = figures.find((f) => f.name === by);
  const rows = sortedBy(fitting, chosen).slice(0, SHOWN);
  const columns: Column[] = [
    "Part",
    ...figures.map((f) => ({
      name: (
        <Act plain aria-pressed={f.name === by} onClick={() => setBy(f.name === by ? "" : f.name)}>
          {f.title}
          {f.name === by ? " ↑" : ""}
        </Act>
      ),
      right: true,
    })),
    { name: "In drawer", right: true },
    { name: "Price", right: true },
    "",
  ];
  const said = (row: DrawerRow, f: Figure) => {
    const value = row.data[f.name];
    if (typeof value !== "number") return value === undefined || value === null ? "–" : String(value);
    return show(value, f.unit, 4).said;
  };
  return (
    <div onKeyDown={walkRows}>
      <Words label="Search" value={search} onValue={setSearch} focused />
      <Fetched of={drawer} what="the parts drawer">
        {() =>
          rows.length === 0 ? (
            <p className="quiet">
              Nothing in the drawer fits. Enter the part's own data instead, or add it to the drawer.
            </p>
          ) : (
            <>
              <Table columns={columns} tall={420} label="Parts that fit">
                {rows.map((r, i) => (
                  <tr
                    key={r.key}
                    tabIndex={i === 0 ? 0 : -1}
                    data-part-row={r.key}
                    title={`${r.source_kind}${r.source ? `: ${r.source}` : ""}`}
                    onKeyDown={(e) => {
                      if (e.key === "Enter" && e.target === e.currentTarget) take(r);
                    }}
                  >
                    <td>{r.name}</td>
                    {figures.map((f) => (
                      <Num key={f.name}>{said(r, f)}</Num>
                    ))}
                    <Num>{r.quantity || "–"}</Num>
                    <Num>
                      {r.price === null && typeof r.typical !== "number"
                        ? "–"
                        : about(priceOf(r, design.aim.price_factor), design.aim.currency, r.price === null)}
                    </Num>
                    <Acts>
                      <Act
                        busy={taking === r.key}
                        tabIndex={-1}
                        onClick={() => take(r)}
                        aria-label={`Take ${r.name}`}
                      >
                        Take
                      </Act>
                    </Acts>
                  </tr>
                ))}
              </Table>
              {fitting.length > SHOWN && (
                <p className="quiet small">{fitting.length - SHOWN} more; narrow the search.</p>
              )}
              <p className="quiet small">Arrow keys go along the rows, Enter takes one.</p>
            </>
          )
        }
      </Fetched>
    </div>
  );
}
