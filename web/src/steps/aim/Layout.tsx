/** The layout of the axis, and the chooser for another. */
import { useState } from "react";
import { type LayoutRow } from "../../api/client";
import { useLayouts } from "../../api/queries";
import { useBench, usePick } from "../../design/context";
import { Act } from "../../kit/Act";
import { Dialog } from "../../kit/Dialog";
import { Fetched } from "../../kit/Fetched";
import { Line, Sheet } from "../../kit/sheets";
import { LayoutChooser, MovingSketch } from "./LayoutChooser";
import css from "./layout.module.css";
import { lower } from "../../units/words";

export function Layout() {
  const layouts = useLayouts();
  const [open, setOpen] = useState(false);
  const key = usePick((v) => v.report?.layout ?? "");
  const row = layouts.data?.find((l) => l.key === key);
  return (
    <Sheet
      title="Layout"
      note={row && lower(row.name)}
      aside={<Act onClick={() => setOpen(true)}>Change it</Act>}
    >
      <Fetched of={layouts} what="the layouts">
        {() => row && <Shown row={row} />}
      </Fetched>
      <Dialog opened={open} close={() => setOpen(false)} title="Layouts" wide={940}>
        <Other now={key} close={() => setOpen(false)} />
      </Dialog>
    </Sheet>
  );
}

function Shown({ row }: { row: LayoutRow }) {
  const [on, setOn] = useState(false);
  return (
    <div className={css.shown} onPointerEnter={() => setOn(true)} onPointerLeave={() => setOn(false)}>
      {row.scene ? <MovingSketch scene={row.scene} on={on} width={180} height={84} /> : <span />}
      <p className="small">
        <b>Gives</b> {lower(row.gives)} <b>Costs</b> {lower(row.costs)}{" "}
        <span className="quiet">{row.schools}</span>
      </p>
    </div>
  );
}

function Other({ now, close }: { now: string; close: () => void }) {
  const { session } = useBench();
  const [chosen, setChosen] = useState(now);
  const layouts = useLayouts();
  const row = layouts.data?.find((l) => l.key === chosen);
  const take = () => {
    const begin = row?.begin as Record<string, unknown>;
    session.setAll({ chain: begin.chain, end: begin.end, sides: begin.sides ?? { kind: "one" } }, "", []);
    close();
  };
  return (
    <>
      <Line spread>
        <p className="small quiet">
          Taking another layout replaces motor, chain and end; the aim and what moves stay. Undo brings the
          old ones back.
        </p>
        <Act big main disabled={!row || chosen === now} onClick={take}>
          Take this layout
        </Act>
      </Line>
      <LayoutChooser chosen={chosen} choose={setChosen} />
    </>
  );
}
