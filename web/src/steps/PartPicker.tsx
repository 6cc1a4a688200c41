/** Takes a part from the drawer into the design: its data, its name, its price and its source. */
import { useMemo, useState } from "react";
import { Modal } from "@mantine/core";
import type { DrawerRow } from "../api/client";
import { useDrawer } from "../api/queries";
import { useBench, useView } from "../design/context";
import { getAt } from "../design/path";
import { money } from "../units/format";

interface Props {
  kind: string;
  /** Where the part stands in the design. */
  path: string;
  label: string;
  /** Rows that fit; the others are not shown. */
  fits?: (row: DrawerRow) => boolean;
  /** Parts that are only a number or two, such as a supply, keep the name and price of what they sit on. */
  dataOnly?: boolean;
}

export function PartPicker({ kind, path, label, fits, dataOnly }: Props) {
  const { session } = useBench();
  const { design } = useView();
  const drawer = useDrawer();
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const rows = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    return (drawer.data ?? []).filter((r) => r.kind === kind && (!fits || fits(r)) && words.every((w) => r.name.toLowerCase().includes(w)));
  }, [drawer.data, kind, fits, search]);
  const take = (row: DrawerRow) => {
    const changes: Record<string, unknown> = {};
    const here = getAt(design, path) as Record<string, unknown>;
    // Only what the part in the design knows; a pulley's row also names its profile, which belongs to the belt.
    for (const [name, value] of Object.entries(row.data)) if (name in here && value !== null && value !== "") changes[`${path}.${name}`] = value;
    if (!dataOnly) {
      changes[`${path}.label`] = row.name;
      changes[`${path}.drawer_key`] = row.key;
      changes[`${path}.price`] = row.price;
      changes[`${path}.in_stock`] = row.quantity > 0;
      changes[`${path}.source`] = { kind: row.source_kind, note: row.source };
    }
    session.setAll(changes);
    setOpen(false);
  };
  return (
    <>
      <button className="act tight" onClick={() => setOpen(true)}>{label}</button>
      <Modal opened={open} onClose={() => setOpen(false)} title={label} size="lg">
        <div className="field text"><label className="name" htmlFor={`pick-${kind}`}>Search</label><div className="box"><input id={`pick-${kind}`} value={search} onChange={(e) => setSearch(e.target.value)} data-autofocus /></div></div>
        <div style={{ maxHeight: 420, overflowY: "auto", marginTop: 8 }}>
          <table>
            <thead><tr><th>Part</th><th className="r">In drawer</th><th className="r">Price</th><th>Source</th><th /></tr></thead>
            <tbody>
              {rows.slice(0, 120).map((r) => (
                <tr key={r.key}>
                  <td>{r.name}</td>
                  <td className="r num">{r.quantity || "–"}</td>
                  <td className="r num">{r.price === null ? "–" : money(r.price, design.aim.currency)}</td>
                  <td className="small quiet" title={r.source}>{r.source_kind}</td>
                  <td className="r"><button className="act tight" onClick={() => take(r)} aria-label={`Take ${r.name}`}>Take</button></td>
                </tr>
              ))}
            </tbody>
          </table>
          {rows.length === 0 && <p className="quiet" style={{ padding: 8 }}>{drawer.isPending ? "Opening the drawer…" : "Nothing in the drawer fits. Enter the part's own data instead, or add it to the drawer."}</p>}
        </div>
      </Modal>
    </>
  );
}
