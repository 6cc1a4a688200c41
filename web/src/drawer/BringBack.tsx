/** The drawer's own history: rows that were taken out, and files that were taken in, each to be turned round. */
import { useState } from "react";
import { act, type Intake, type Turned } from "../api/client";
import { useBringBack, useChange, useIntakes, useTakenOut } from "../api/queries";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Fetched } from "../kit/Fetched";
import { Notice } from "../kit/Notice";
import { Acts, Part, Table } from "../kit/sheets";
import { counted, moment } from "../units/format";

const SHOWN = 200;

export function BringBack() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Act onClick={() => setOpen(true)}>Bring back…</Act>
      <Dialog
        opened={open}
        close={() => setOpen(false)}
        title="Bring back what was taken out, take back a file"
        wide="xl"
      >
        <Files wanted={open} />
        <Out wanted={open} />
      </Dialog>
    </>
  );
}

/** Takes a file back, or in again. */
const useTurn = () =>
  useChange(
    (i: Pick<Intake, "id" | "undone">) =>
      act<Turned>(`/drawer/intakes/${i.id}/${i.undone ? "redo" : "undo"}`, { method: "POST" }),
    "drawer",
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
      Later it is taken back under “Bring back…”.
    </Notice>
  );
}

function Files({ wanted }: { wanted: boolean }) {
  const intakes = useIntakes(wanted);
  const turn = useTurn();
  return (
    <Part title="Files taken in" role="region" aria-label="Files taken in">
      {turn.data && <Kept turned={turn.data} />}
      <Fetched of={intakes} what="the files taken in">
        {(files) =>
          files.length === 0 ? (
            <p className="quiet">None so far.</p>
          ) : (
            <Table>
              {files.map((i) => (
                <tr key={i.id} data-intake={i.id}>
                  <td className="small num">{moment(i.at)}</td>
                  <td>
                    <span className="num">{i.new}</span> new, <span className="num">{i.changed}</span> changed
                  </td>
                  <td className="small quiet">{i.undone ? "taken back" : ""}</td>
                  <Acts>
                    <Act busy={turn.isPending && turn.variables.id === i.id} onClick={() => turn.mutate(i)}>
                      {i.undone ? "Take it in again" : "Take it back"}
                    </Act>
                  </Acts>
                </tr>
              ))}
            </Table>
          )
        }
      </Fetched>
    </Part>
  );
}

function Out({ wanted }: { wanted: boolean }) {
  const out = useTakenOut(wanted);
  const back = useBringBack();
  const all = out.data ?? [];
  return (
    <Part
      title="Taken out of the drawer"
      role="region"
      aria-label="Taken out of the drawer"
      aside={
        all.length > 1 && (
          <Act busy={back.isPending} onClick={() => back.mutate(all.map((r) => r.key))}>
            Bring all {all.length} back
          </Act>
        )
      }
    >
      <Fetched of={out} what="what was taken out">
        {(rows) =>
          rows.length === 0 ? (
            <p className="quiet">Nothing is out.</p>
          ) : (
            <>
              <Table>
                {rows.slice(0, SHOWN).map((r) => (
                  <tr key={r.key} data-out={r.key}>
                    <td>{r.name}</td>
                    <td className="small quiet">
                      {r.quantity > 0 ? `${r.quantity} of them` : "none in stock"}
                    </td>
                    <Acts>
                      <Act aria-label={`Bring ${r.name} back`} onClick={() => back.mutate([r.key])}>
                        Bring it back
                      </Act>
                    </Acts>
                  </tr>
                ))}
              </Table>
              {rows.length > SHOWN && <p className="quiet small">{rows.length - SHOWN} more.</p>}
            </>
          )
        }
      </Fetched>
    </Part>
  );
}
