/** An axis whose newest revision cannot be read: why, and the ways out. */
import { useNavigate } from "react-router";
import { act, BASE, type Axis } from "../api/client";
import { useChange } from "../api/queries";
import { Act, ActLink } from "../kit/Act";
import { Notice } from "../kit/Notice";
import { Line, Sheet } from "../kit/sheets";
import { PageTop, Plain } from "./Plain";
import { RevisionTable } from "./RevisionTable";

export function Unreadable({ axis }: { axis: Axis }) {
  const navigate = useNavigate();
  const back = useChange(
    (number: number) =>
      act<Axis>(`/axes/${axis.id}/restore`, { body: { base_version: axis.version, number } }),
    "shelf",
    "axis",
  );
  const off = useChange(() => act(`/axes/${axis.id}`, { method: "DELETE" }), "shelf", "off");
  return (
    <Plain>
      <PageTop title={axis.name} says={`${axis.machine}, revision ${axis.version}`} />
      <Notice title="The newest revision of this axis cannot be read">
        {axis.problems.slice(0, 4).map((p) => (
          <div key={p.field + p.message}>
            <b>{p.field}</b> {p.message}. {p.remedy}
          </div>
        ))}
        It is kept as it stands; nothing is lost.
      </Notice>
      <Sheet title="Earlier revisions" note="going back makes a new revision on top; this one stays">
        {axis.version === 1 ? (
          <p className="quiet">There is none: this axis was saved once.</p>
        ) : (
          <RevisionTable
            of={`axes/${axis.id}/revisions`}
            version={axis.version}
            says="Go back to"
            back={back}
          />
        )}
        <Line foot>
          <ActLink big href={`${BASE}/api/axes/${axis.id}/file`}>
            Save it as a file, as it is stored
          </ActLink>
          <Act
            big
            busy={off.isPending}
            onClick={() => off.mutate(undefined, { onSuccess: () => void navigate("/") })}
          >
            Take it off the shelf
          </Act>
        </Line>
      </Sheet>
    </Plain>
  );
}
