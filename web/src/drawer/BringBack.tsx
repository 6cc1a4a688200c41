/** The drawer's own history: rows that were taken out, and files that were taken in, each to be turned round. */
import { useState } from "react";
import { Button, Modal } from "@mantine/core";
import { ask, type Intake, type Turned } from "../api/client";
import { useBringBack, useChange, useIntakes, useTakenOut } from "../api/queries";
import { Notice } from "../kit/Notice";
import { counted, moment } from "../units/format";

const SHOWN = 200;

export function BringBack() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button className="act tight" onClick={() => setOpen(true)}>
        Bring back…
      </button>
      <Modal
        opened={open}
        onClose={() => setOpen(false)}
        title="Bring back what was taken out, take back a file"
        size="xl"
      >
        <Files wanted={open} />
        <Out wanted={open} />
      </Modal>
    </>
  );
}

/** Takes a file back, or in again. */
const useTurn = () =>
  useChange(
    (i: Pick<Intake, "id" | "undone">) =>
      ask<Turned>(`/drawer/intakes/${i.id}/${i.undone ? "redo" : "undo"}`, { method: "POST" }),
    "drawer",
    "belt",
  );

function Kept({ turned }: { turned: Turned }) {
  if (turned.kept === 0) return null;
  const more = turned.kept - turned.kept_names.length;
  return (
    <Notice
      title={`${counted(turned.kept, "row was", "rows were")} changed since and stay as they are`}
      grave={false}
    >
      {turned.kept_names.join(", ")}
      {more > 0 && ` and ${more} more`}. Set or take them out one by one.
    </Notice>
  );
}

/** A file that was taken in just now, to be taken back at once. */
export function TakenIn({ step, close }: { step: Intake; close: () => void }) {
  const turn = useTurn();
  if (turn.data) return turn.data.kept > 0 ? <Kept turned={turn.data} /> : null;
  return (
    <Notice
      title={`Taken in: ${step.new} new, ${step.changed} changed`}
      grave={false}
      actions={[
        { says: "Take it back", main: true, busy: turn.isPending, run: () => turn.mutate(step) },
        { says: "Close", run: close },
      ]}
    >
      {turn.error ? turn.error.message : "Later it is taken back under “Bring back…”."}
    </Notice>
  );
}

function Files({ wanted }: { wanted: boolean }) {
  const intakes = useIntakes(wanted);
  const turn = useTurn();
  return (
    <section style={{ marginBottom: 18 }} aria-label="Files taken in">
      <h2>Files taken in</h2>
      {intakes.error && <Notice title="They cannot be shown">{intakes.error.message}</Notice>}
      {turn.error && <Notice title="That did not work">{turn.error.message}</Notice>}
      {turn.data && <Kept turned={turn.data} />}
      {intakes.data?.length === 0 && <p className="quiet">None so far.</p>}
      <table className="rows">
        <tbody>
          {intakes.data?.map((i) => (
            <tr key={i.id} data-intake={i.id}>
              <td className="small num">{moment(i.at)}</td>
              <td>
                <span className="num">{i.new}</span> new, <span className="num">{i.changed}</span> changed
              </td>
              <td className="small quiet">{i.undone ? "taken back" : ""}</td>
              <td className="r">
                <Button
                  size="compact-xs"
                  variant="default"
                  loading={turn.isPending && turn.variables.id === i.id}
                  onClick={() => turn.mutate(i)}
                >
                  {i.undone ? "Take it in again" : "Take it back"}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Out({ wanted }: { wanted: boolean }) {
  const out = useTakenOut(wanted);
  const back = useBringBack();
  const rows = out.data ?? [];
  return (
    <section aria-label="Taken out of the drawer">
      <h2 style={{ display: "flex", gap: 10, alignItems: "center" }}>
        Taken out of the drawer{" "}
        {rows.length > 1 && (
          <Button
            size="compact-xs"
            variant="default"
            loading={back.isPending}
            onClick={() => back.mutate(rows.map((r) => r.key))}
          >
            Bring all {rows.length} back
          </Button>
        )}
      </h2>
      {out.error && <Notice title="They cannot be shown">{out.error.message}</Notice>}
      {back.error && <Notice title="That did not work">{back.error.message}</Notice>}
      {out.data?.length === 0 && <p className="quiet">Nothing is out.</p>}
      <table className="rows">
        <tbody>
          {rows.slice(0, SHOWN).map((r) => (
            <tr key={r.key} data-out={r.key}>
              <td>{r.name}</td>
              <td className="small quiet">{r.quantity > 0 ? `${r.quantity} of them` : "none in stock"}</td>
              <td className="r">
                <Button
                  size="compact-xs"
                  variant="default"
                  aria-label={`Bring ${r.name} back`}
                  onClick={() => back.mutate([r.key])}
                >
                  Bring it back
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > SHOWN && <p className="quiet small">{rows.length - SHOWN} more.</p>}
    </section>
  );
}
