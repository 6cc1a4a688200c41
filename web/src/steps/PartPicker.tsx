/** Takes a part from the drawer into the design: the program says what that sets, the whole part and what follows from it. */
import { useMemo, useState } from "react";
import { Button, Modal } from "@mantine/core";
import { ask, type DrawerRow, type Taken } from "../api/client";
import { useChange, useDrawer } from "../api/queries";
import { useBench, usePick, useView } from "../design/context";
import { modelAt, type Schema } from "../design/fields";
import { getAt } from "../design/path";
import { Notice } from "../kit/Notice";
import { money } from "../units/format";

const CAPITAL = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** The kind of drawer row that goes to a place of the design, if any does; the program says which go where. */
function useRowKind(path: string): string | undefined {
  const { session, start } = useBench();
  usePick((v) => (getAt(v.design, path) as { kind?: string } | undefined)?.kind);
  return start.takes[modelAt(start.design_schema as unknown as Schema, session.get().design, path)];
}

/** "Pulley from the drawer", where the part at a path can be taken from there. */
export function PartPicker({ path }: { path: string }) {
  const kind = useRowKind(path);
  return kind ? <Picker key={kind} kind={kind} path={path} /> : null;
}

function Picker({ kind, path }: { kind: string; path: string }) {
  const { session } = useBench();
  const { design } = useView();
  const drawer = useDrawer();
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const [assumed, setAssumed] = useState<readonly string[]>([]);
  const taking = useChange((row: DrawerRow) =>
    ask<Taken>("/take", { body: { design: session.get().design, at: path, key: row.key } }),
  );
  const profile = getAt(
    design,
    `${path
      .split(".")
      .slice(0, path.startsWith("chain.") ? 2 : 1)
      .join(".")}.belt.profile`,
  );
  const rows = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (r: DrawerRow) =>
      !["pulley", "idler"].includes(kind) || r.data.kind === "smooth" || r.data.profile === profile;
    return (drawer.data ?? []).filter(
      (r) => r.kind === kind && fits(r) && words.every((w) => r.name.toLowerCase().includes(w)),
    );
  }, [drawer.data, kind, profile, search]);
  const take = (row: DrawerRow) =>
    taking.mutate(row, {
      onSuccess: (taken) => {
        session.setAll(taken.changes);
        setAssumed(taken.assumed);
        setOpen(taken.assumed.length > 0);
      },
    });
  const close = () => {
    setOpen(false);
    setAssumed([]);
  };
  const label = `${CAPITAL(kind)} from the drawer`;
  return (
    <>
      <Button variant="default" onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Modal opened={open} onClose={close} title={label} size="lg">
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
            {taking.error && <Notice title="That part cannot be taken">{taking.error.message}</Notice>}
            <div className="field text">
              <label className="name" htmlFor={`pick-${path}`}>
                Search
              </label>
              <div className="box">
                <input
                  id={`pick-${path}`}
                  value={search}
                  onChange={(e) => setSearch(e.target.value)}
                  data-autofocus
                />
              </div>
            </div>
            <div style={{ maxHeight: 420, overflowY: "auto", marginTop: 8 }}>
              <table>
                <thead>
                  <tr>
                    <th>Part</th>
                    <th className="r">In drawer</th>
                    <th className="r">Price</th>
                    <th>Source</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {rows.slice(0, 120).map((r) => (
                    <tr key={r.key}>
                      <td>{r.name}</td>
                      <td className="r num">{r.quantity || "–"}</td>
                      <td className="r num">
                        {r.price === null ? "–" : money(r.price, design.aim.currency)}
                      </td>
                      <td className="small quiet" title={r.source}>
                        {r.source_kind}
                      </td>
                      <td className="r">
                        <Button
                          variant="default"
                          loading={taking.isPending && taking.variables?.key === r.key}
                          onClick={() => take(r)}
                          aria-label={`Take ${r.name}`}
                        >
                          Take
                        </Button>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {rows.length > 120 && (
                <p className="quiet small" style={{ padding: 8 }}>
                  {rows.length - 120} more; narrow the search.
                </p>
              )}
              {rows.length === 0 && (
                <p className="quiet" style={{ padding: 8 }}>
                  {drawer.isPending
                    ? "Opening the drawer…"
                    : "Nothing in the drawer fits. Enter the part's own data instead, or add it to the drawer."}
                </p>
              )}
            </div>
          </>
        )}
      </Modal>
    </>
  );
}
