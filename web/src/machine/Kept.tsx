/** What the controller has to know of all axes, and what was written down about them. */
import { Link } from "react-router";
import { ask, type MachineAnswer, type MachinePlan } from "../api/client";
import { useChange } from "../api/queries";
import { RevisionTable } from "../frame/RevisionTable";
import { Fold, Num, Sheet, Table } from "../kit/sheets";
import { money } from "../units/format";
import { usePlan, useSaid } from "./plan";

export function Settings({ machine }: { machine: MachineAnswer }) {
  const said = useSaid();
  const { settings } = machine.report;
  if (settings.length === 0) return null;
  return (
    <Sheet title="Settings for the controller" note="of all axes; counted from the parts" data-settings>
      <Table columns={["Axis", "Goes", "Setting", { name: "Value", right: true }]}>
        {settings.flatMap((a) =>
          a.settings.map((s, i) => (
            <tr key={`${a.axis} ${s.label}`} data-setting={`${a.name} ${s.label}`}>
              <td>{i === 0 && <Link to={`/axis/${a.axis}/build`}>{a.name}</Link>}</td>
              <td className="small">{i === 0 && a.way}</td>
              <td>
                {s.label} <span className="small quiet">{s.note}</span>
              </td>
              <Num>
                {s.value === null
                  ? "unknown"
                  : said(s.value, s.unit, s.unit.startsWith("steps") ? 7 : 4).said}
              </Num>
            </tr>
          )),
        )}
      </Table>
    </Sheet>
  );
}

export function Log({ machine }: { machine: MachineAnswer }) {
  const { log, log_entries: count, log_cost: cost } = machine;
  return (
    <Sheet
      title="Log"
      note={
        count > log.length
          ? `the newest ${log.length} of ${count} entries of all axes`
          : "of all axes, the newest first"
      }
      aside={cost > 0 && <span className="small">{money(cost, machine.report.money.currency)} in all</span>}
      data-log
    >
      {log.length === 0 && <p className="quiet">Nothing yet: each axis has its own, under Log.</p>}
      {log.length > 0 && (
        <Table columns={["Day", "Axis", "Kind", "What happened", { name: "Cost", right: true }]}>
          {log.map(({ axis, axis_name: name, entry }) => (
            <tr key={entry.id}>
              <td className="num">{entry.on_date}</td>
              <td>
                <Link to={`/axis/${axis}/log`}>{name || "an axis that cannot be read"}</Link>
              </td>
              <td className="small">{entry.kind}</td>
              <td className="small">{entry.says}</td>
              <Num>{entry.cost === null ? "" : money(entry.cost, machine.report.money.currency)}</Num>
            </tr>
          ))}
        </Table>
      )}
    </Sheet>
  );
}

export function Revisions({ machine }: { machine: MachineAnswer }) {
  const { save } = usePlan(machine);
  const back = useChange(async (number: number) => {
    const was = await ask<MachinePlan>(`/machines/${machine.id}/plans/${number}`);
    save(() => was);
  });
  return (
    <div className="no-print">
      <Fold title="Revisions of the plan" says="own steps, parcels, places, money; each can be returned to">
        {() => (
          <RevisionTable
            of={`machines/${machine.id}/plans`}
            version={machine.version}
            says="Return to"
            back={back}
          />
        )}
      </Fold>
    </div>
  );
}
