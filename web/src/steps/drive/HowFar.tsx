/** How far: the most of each aim at which everything holds and what binds there, and what mends what is short. */
import { useState } from "react";
import type { Reaches } from "../../api/client";
import { useReaches } from "../../api/queries";
import { useBench, useShow, useView } from "../../design/context";
import { Act } from "../../kit/Act";
import { Fetched, Waiting } from "../../kit/Fetched";
import { Acts, Num, Table } from "../../kit/sheets";
import { Mends } from "../../frame/Mends";

type Aim = Reaches["aims"][number];

export default function HowFar() {
  const view = useView();
  const [done, setDone] = useState(0);
  const found = useReaches(view.design, true, setDone);
  return (
    <Fetched
      of={found}
      what="how far it goes"
      waiting={<Waiting done={done}>Working out how far it goes…</Waiting>}
    >
      {(answer) => (
        <div data-far>
          <p className="quiet small">
            One aim at a time, everything else as it stands; up to thirty times what stands is looked at.
            Holds with its margins, on every target that counts.
          </p>
          <Table
            dense
            label="How far each aim goes"
            columns={[
              "Aim",
              { name: "Asked now", right: true },
              { name: "Holds up to", right: true },
              "What binds",
              "",
            ]}
          >
            {answer.aims.map((aim) => (
              <Row key={aim.path} aim={aim} />
            ))}
          </Table>
          <Mends title="What mends what is short" mends={answer.mends} />
        </div>
      )}
    </Fetched>
  );
}

function Row({ aim }: { aim: Aim }) {
  const { session } = useBench();
  const show = useShow();
  const said = (value: number) => show(value, aim.unit, 3).said;
  const { most } = aim;
  return (
    <tr data-aim={aim.path}>
      <td>{aim.label}</td>
      <Num>{said(aim.now)}</Num>
      <Num>
        {most === null
          ? "none holds"
          : `${aim.fewer ? "down to " : ""}${said(most)}${aim.open_end ? " and on" : ""}`}
      </Num>
      <td>
        {most === null ? (
          <span>
            <span className="signal">{aim.binds}</span> is short whatever this is
          </span>
        ) : (
          aim.binds || <span className="quiet">nothing, as far as was looked</span>
        )}
      </td>
      <Acts>
        {aim.set_to !== null && most !== aim.now && (
          <Act
            aria-label={`Ask for ${said(most ?? 0)}: ${aim.label}`}
            onClick={() => session.setAll({ [aim.path]: aim.set_to })}
          >
            Ask for it
          </Act>
        )}
      </Acts>
    </tr>
  );
}
