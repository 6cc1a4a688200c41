/** The single change that helps a machine most: the best of its worst axis, looked for when it is asked for. */
import { useState } from "react";
import { Link } from "react-router";
import { useAxis, useChanges } from "../api/queries";
import type { Design } from "../api/client";
import { Act } from "../kit/Act";
import { Waiting } from "../kit/Fetched";
import { Failed } from "../kit/Notice";
import { about, number } from "../units/format";

export function Helps({ axis, name }: { axis: string; name: string }) {
  const [wanted, setWanted] = useState(false);
  return wanted ? (
    <Load axis={axis} name={name} />
  ) : (
    <p className="no-print">
      <Act onClick={() => setWanted(true)}>Find the change that helps most</Act>{" "}
      <span className="small quiet">every single change to {name}, which limits the machine</span>
    </p>
  );
}

function Load({ axis, name }: { axis: string; name: string }) {
  const found = useAxis(axis);
  if (found.error) return <Failed of={found.error} title="That axis cannot be read" />;
  return found.data?.design ? (
    <Best design={found.data.design} axis={axis} name={name} />
  ) : (
    <Waiting>One moment…</Waiting>
  );
}

function Best({ design, axis, name }: { design: Design; axis: string; name: string }) {
  const [done, setDone] = useState(0);
  const changes = useChanges(design, true, setDone);
  if (changes.error) return <Failed of={changes.error} title="No change was found" />;
  if (!changes.data) return <Waiting done={done}>Trying every single change…</Waiting>;
  const best = changes.data.singles[0];
  return (
    <p aria-live="polite" data-helps>
      {best ? (
        <>
          On {name}: <b>{best.first.says}</b>, {best.first.before} → {best.first.after}
          {best.price ? `, ${about(best.price, design.aim.currency, best.typical)}` : ", at no cost"}; least
          headroom from <span className="num">{number(changes.data.worst, 3)}</span> to{" "}
          <span className="num">{number(best.worst, 3)}</span>.{" "}
        </>
      ) : (
        `No single change to ${name} helps. `
      )}
      <Link to={`/axis/${axis}/drive`}>All of them in Drive</Link>
    </p>
  );
}
