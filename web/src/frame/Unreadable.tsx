/** An axis whose newest revision cannot be read: why, and the ways out. */
import { useNavigate } from "react-router";
import { Button } from "@mantine/core";
import { ask, type Axis } from "../api/client";
import { useChange } from "../api/queries";
import { Notice } from "../kit/Notice";
import { Plain } from "./Plain";
import { RevisionTable } from "./RevisionTable";

export function Unreadable({ axis }: { axis: Axis }) {
  const navigate = useNavigate();
  const back = useChange(
    (number: number) =>
      ask<Axis>(`/axes/${axis.id}/restore`, { body: { base_version: axis.version, number } }),
    "shelf",
    "axis",
  );
  const off = useChange(() => ask(`/axes/${axis.id}`, { method: "DELETE" }), "shelf", "off");
  const failed = back.error ?? off.error;
  return (
    <Plain>
      <h1 style={{ fontSize: 24, fontWeight: 600, marginBottom: 14 }}>
        {axis.name}{" "}
        <span className="quiet" style={{ fontSize: 15, fontWeight: 400 }}>
          {axis.machine}, revision {axis.version}
        </span>
      </h1>
      <Notice title="The newest revision of this axis cannot be read">
        {axis.problems.slice(0, 4).map((p) => (
          <div key={p.field + p.message}>
            <b>{p.field}</b> {p.message}. {p.remedy}
          </div>
        ))}
        It is kept as it stands; nothing is lost.
      </Notice>
      {failed && <Notice title="That did not work">{failed.message}</Notice>}
      <section className="sheet">
        <h2>
          Earlier revisions{" "}
          <span className="quiet">going back makes a new revision on top; this one stays</span>
        </h2>
        {axis.version === 1 ? (
          <p className="quiet">There is none: this axis was saved once.</p>
        ) : (
          <RevisionTable axis={axis.id} version={axis.version} says="Go back to" back={back} />
        )}
        <p style={{ display: "flex", gap: 8, marginTop: 12 }}>
          <Button component="a" variant="default" href={`/api/axes/${axis.id}/file`}>
            Save it as a file, as it is stored
          </Button>
          <Button
            variant="default"
            loading={off.isPending}
            onClick={() => off.mutate(undefined, { onSuccess: () => void navigate("/") })}
          >
            Take it off the shelf
          </Button>
        </p>
      </section>
    </Plain>
  );
}
