/** A machine as a place of its own: its axes together, one order of work, one order list, one sum. */
import { Link, useParams } from "react-router";
import { useHotkeys } from "@mantine/hooks";
import { BASE, type MachineAnswer } from "../api/client";
import { PageTop, Plain } from "../frame/Plain";
import { afterMark, VerdictMark } from "../frame/verdict";
import { Act, ActLink } from "../kit/Act";
import { Clashing, plainly } from "../kit/Clashing";
import { Fetched } from "../kit/Fetched";
import { Notice } from "../kit/Notice";
import { Num, Sheet, Table } from "../kit/sheets";
import { Cut, MoneyOf, Parcels, Supplies } from "./Buying";
import { Drawn } from "./Drawn";
import { Helps } from "./Helps";
import { Log, Revisions, Settings } from "./Kept";
import { Order, Today } from "./Order";
import { OrderList } from "./Ordering";
import { useMachine, usePlan, useSaid } from "./plan";

export default function Machine() {
  const { id = "" } = useParams();
  const machine = useMachine(id);
  return (
    <Plain>
      <Fetched of={machine} what="this machine">
        {(found) => <Whole key={found.id} machine={found} />}
      </Fetched>
    </Plain>
  );
}

function Whole({ machine }: { machine: MachineAnswer }) {
  const { report } = machine;
  const plan = usePlan(machine);
  useHotkeys([
    ["mod+Z", (e) => (e.preventDefault(), plan.undo())],
    ["mod+Y", (e) => (e.preventDefault(), plan.redo())],
    ["mod+shift+Z", (e) => (e.preventDefault(), plan.redo())],
  ]);
  const out = [
    ...report.left_out,
    ...machine.unread.map((name) => `${name} cannot be read; open it on the shelf.`),
  ];
  return (
    <>
      <PageTop title={machine.name} says={report.in_words}>
        <span className="no-print">
          <Act big fast disabled={!plan.canUndo} busy={plan.busy} title="Undo (Ctrl Z)" onClick={plan.undo}>
            Undo
          </Act>{" "}
          <Act big fast disabled={!plan.canRedo} busy={plan.busy} title="Redo (Ctrl Y)" onClick={plan.redo}>
            Redo
          </Act>{" "}
          <ActLink big href={`${BASE}/api/machines/${machine.id}/file`} download="">
            Machine as a file
          </ActLink>{" "}
          <Act big onClick={() => window.print()}>
            Print
          </Act>
        </span>
      </PageTop>
      {plan.question && (
        <Clashing
          pick={(_, mine) => plan.pick(mine)}
          clashes={plan.question.clashes.map(({ ref, mine, theirs }) => ({
            ref,
            name: ref.split(".").at(-1)!.replaceAll("_", " "),
            mine: plainly(mine),
            theirs: plainly(theirs),
          }))}
        >
          All else of both windows stands. Nothing was overwritten: what does not count stands under Revisions
          of the plan, at the foot of this page.
        </Clashing>
      )}
      {out.length > 0 && (
        <Notice title="Not everything is counted" grave={false}>
          {out.join(" ")}
        </Notice>
      )}
      <Axes machine={machine} />
      <Drawn machine={machine} />
      <Today machine={machine} />
      <Order machine={machine} />
      <OrderList machine={machine} />
      <Parcels machine={machine} />
      <MoneyOf machine={machine} />
      <Cut machine={machine} />
      <Supplies machine={machine} />
      <Settings machine={machine} />
      <Log machine={machine} />
      <Revisions machine={machine} />
    </>
  );
}

function Axes({ machine }: { machine: MachineAnswer }) {
  const { axes } = machine.report;
  const said = useSaid();
  const names = new Map(axes.map((a) => [a.key, a.name]));
  const worst = axes.reduce<number>((low, a) => Math.min(low, a.headroom ?? Infinity), Infinity);
  const limits = axes.find((a) => a.headroom === worst);
  if (axes.length === 0)
    return (
      <Sheet title="No axis yet">
        <p>Add the first one on the shelf.</p>
      </Sheet>
    );
  return (
    <Sheet title="Axes" note="what limits each; the least of them limits the machine">
      <Table
        columns={[
          "Axis",
          "Rides on",
          { name: "it carries", right: true },
          { name: "moves in all", right: true },
          "How it stands",
          "What would help",
        ]}
      >
        {axes.map((a) => (
          <tr key={a.key} data-axis={a.key}>
            <td>
              <Link to={`/axis/${a.key}/aim`}>{a.name}</Link>
              {axes.length > 1 && a.headroom === worst && (
                <div className="small quiet">limits the machine</div>
              )}
            </td>
            <td className="small">{names.get(a.rides_on) ?? "the frame"}</td>
            <Num>{a.carried_kg ? said(a.carried_kg, "kg").said : ""}</Num>
            <Num>{a.moving_kg === null ? "" : said(a.moving_kg, "kg").said}</Num>
            <td>
              <VerdictMark verdict={a.verdict} /> <span className="small">{afterMark(a.in_words)}</span>
            </td>
            <td className="small">
              {a.says} <Link to={`/axis/${a.key}/drive`}>One change</Link>
            </td>
          </tr>
        ))}
      </Table>
      {limits && <Helps axis={limits.key} name={limits.name} />}
    </Sheet>
  );
}
