/** The machines, each with its axes as one line. */
import { useState } from "react";
import { act, BASE, Unreachable } from "../api/client";
import { useChange, useLayouts, usePutBack, useShelf } from "../api/queries";
import { PageTop, Plain } from "../frame/Plain";
import { Act, ActLink } from "../kit/Act";
import { Fetched } from "../kit/Fetched";
import { Notice } from "../kit/Notice";
import { Line, Sheet } from "../kit/sheets";
import { DataFile } from "./DataFile";
import { MachineRows } from "./MachineRows";
import { NewAxis, NewMachine } from "./Making";
import { StoreNotice } from "./StoreNotice";
import { TakenOff } from "./TakenOff";

export default function Shelf() {
  const shelf = useShelf();
  const [making, setMaking] = useState(false);
  const [beginning, setBeginning] = useState(false);
  const [removed, setRemoved] = useState<{ path: string; name: string } | null>(null);
  const back = usePutBack();
  const takeOff = useChange(
    ({ path }: { path: string; name: string }) => act(path, { method: "DELETE" }),
    "shelf",
    "off",
  );
  return (
    <Plain>
      <PageTop title="Shelf" says="Each axis with its verdict and what limits it.">
        <Act big main={Boolean(shelf.data?.length)} onClick={() => setMaking(true)}>
          New machine
        </Act>
      </PageTop>
      {removed && (
        <Notice
          title={`“${removed.name}” is off the shelf`}
          grave={false}
          actions={[
            {
              says: "Put it back",
              main: true,
              busy: back.isPending,
              run: () => back.mutate(removed.path, { onSuccess: () => setRemoved(null) }),
            },
            { says: "Close", run: () => setRemoved(null) },
          ]}
        >
          Nothing was deleted: it stands at the foot of this page.
        </Notice>
      )}
      <StoreNotice />
      <Fetched of={shelf} what="the shelf">
        {(machines) =>
          machines.length === 0 ? (
            <Empty begin={() => setBeginning(true)} />
          ) : (
            machines.map((m) => (
              <MachineRows
                key={m.id}
                machine={m}
                takeOff={(path, name) =>
                  takeOff.mutate({ path, name }, { onSuccess: () => setRemoved({ path, name }) })
                }
              />
            ))
          )
        }
      </Fetched>
      {shelf.error instanceof Unreachable && (
        <p className="quiet">Start the program again; this page follows by itself.</p>
      )}
      <TakenOff />
      <DataFile />
      <NewAxis opened={beginning} close={() => setBeginning(false)} />
      <NewMachine opened={making} close={() => setMaking(false)} />
    </Plain>
  );
}

/** What an empty shelf offers: an axis of one's own, or a look around. */
function Empty({ begin }: { begin: () => void }) {
  useLayouts(); // they are there then when the dialog opens
  return (
    <Sheet title="Nothing on the shelf yet">
      <p>
        Say what an axis is to move, how far and how fast: up to three whole axes are proposed, each with its
        parts and its money. A design file can be taken in at the same place.
      </p>
      <Line foot>
        <Act big main autoFocus onClick={begin}>
          Begin an axis
        </Act>
        {!BASE && (
          <ActLink big href="/demo/">
            Look at the demo
          </ActLink>
        )}
      </Line>
      {!BASE && (
        <p className="quiet small">
          The demo has a data file of its own: nothing in it mixes with yours, and one link leads back.
        </p>
      )}
    </Sheet>
  );
}
