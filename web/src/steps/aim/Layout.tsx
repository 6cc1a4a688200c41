/** The layout of the axis, and the chooser for another. */
import { useState } from "react";
import { Modal } from "@mantine/core";
import { type LayoutRow } from "../../api/client";
import { useLayouts } from "../../api/queries";
import { useBench, useView } from "../../design/context";
import { LayoutChooser, MovingSketch } from "./LayoutChooser";

export function Layout() {
  const { session } = useBench();
  const { report } = useView();
  const layouts = useLayouts();
  const [open, setOpen] = useState(false);
  const [on, setOn] = useState(false);
  const key = report?.layout ?? "";
  const row = layouts.data?.find((l) => l.key === key);
  const take = (l: LayoutRow) => {
    const begin = l.begin as Record<string, unknown>;
    session.setAll({ chain: begin.chain, end: begin.end, sides: begin.sides ?? { kind: "one" } });
    setOpen(false);
  };
  return (
    <>
      <h2>
        Layout <span className="quiet">{row?.name.toLowerCase()}</span>{" "}
        <button className="act tight" style={{ marginLeft: "auto" }} onClick={() => setOpen(true)}>
          Change it
        </button>
      </h2>
      {row && (
        <div
          style={{ display: "grid", gridTemplateColumns: "180px 1fr", gap: 14, alignItems: "center" }}
          onPointerEnter={() => setOn(true)}
          onPointerLeave={() => setOn(false)}
        >
          {row.scene ? <MovingSketch scene={row.scene} on={on} width={180} height={84} /> : <span />}
          <p className="small">
            <b>Gives</b> {row.gives.charAt(0).toLowerCase() + row.gives.slice(1)} <b>Costs</b>{" "}
            {row.costs.charAt(0).toLowerCase() + row.costs.slice(1)}{" "}
            <span className="quiet">{row.schools}</span>
          </p>
        </div>
      )}
      <Modal opened={open} onClose={() => setOpen(false)} title="Layouts" size={940}>
        <p className="small quiet" style={{ marginBottom: 10 }}>
          Taking another layout replaces motor, chain and end; the aim and what moves stay. Undo brings the
          old ones back.
        </p>
        {open && <LayoutChooser chosen={key} choose={take} />}
      </Modal>
    </>
  );
}
