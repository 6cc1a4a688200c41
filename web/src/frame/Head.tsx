/** The top line: where you are, what is saved, undo and redo, units, light and dark, help. */
import { memo, useState } from "react";
import { Link } from "react-router";
import { useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { BASE } from "../api/client";
import { anew, client } from "../api/queries";
import { useBench, useOtherUnits, usePick, useSystem } from "../design/context";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Table } from "../kit/sheets";
import { Tip } from "../kit/Tip";
import css from "./frame.module.css";

export function Mark() {
  return (
    <>
      <Home />
      {BASE && (
        <span className={css.demo}>
          Demo, all made up <a href="/">Back to your own shelf</a>
        </span>
      )}
    </>
  );
}

function Home() {
  return (
    <Link to="/" className={css.mark}>
      <svg width="30" height="16" viewBox="0 0 30 16" aria-hidden="true">
        <rect
          x="1.5"
          y="1.5"
          width="27"
          height="13"
          rx="6.5"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          strokeDasharray="2.6 1.5"
        />
        <rect x="11" y="11" width="7" height="5" fill="var(--signal)" />
      </svg>
      Crisp Cadence
    </Link>
  );
}

export const Switches = memo(function Switches() {
  const [system, setSystem] = useSystem();
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme("light");
  const [help, setHelp] = useState(false);
  useOtherUnits(() => void anew(client));
  useHotkeys([
    ["shift+?", () => setHelp(true)],
    ["?", () => setHelp(true)],
  ]);
  return (
    <>
      <Tip says="Switch between millimetres and inches">
        <Act plain onClick={() => setSystem(system === "metric" ? "imperial" : "metric")}>
          {system === "metric" ? "mm · N" : "in · lbf"}
        </Act>
      </Tip>
      <Tip says="Light or dark">
        <Act plain onClick={() => setColorScheme(scheme === "dark" ? "light" : "dark")}>
          {scheme === "dark" ? "Light" : "Dark"}
        </Act>
      </Tip>
      <Tip says="Keyboard shortcuts (?)">
        <Act plain onClick={() => setHelp(true)} aria-label="Keyboard shortcuts">
          ?
        </Act>
      </Tip>
      <Dialog opened={help} close={() => setHelp(false)} title="Keys">
        <Keys />
      </Dialog>
    </>
  );
});

const KEYS: [string, string][] = [
  ["1 … 7", "go to a step (Alt with the digit while typing)"],
  ["Tab", "to the next field"],
  ["↑ ↓", "a number up or down, through what can be bought where that is known; Shift for larger steps"],
  ["← →", "along the drive line, along tabs and cards; along the travel on a drawing"],
  ["Enter, P", "take or pin the row that the focus is on, in a list of drives or parts"],
  ["Esc", "take back what was typed; close what lies over the page"],
  ["Ctrl Z, Ctrl Y", "undo, redo"],
  ["Ctrl K", "search every command"],
  ["Ctrl S", "save at once (it saves by itself)"],
  ["?", "this sheet"],
];

function Keys() {
  return (
    <div className={css.keys}>
      <Table>
        {KEYS.map(([key, says]) => (
          <tr key={key}>
            <td>
              <kbd>{key}</kbd>
            </td>
            <td>{says}</td>
          </tr>
        ))}
      </Table>
      <p className="small quiet">
        Any number field takes any unit: <span className="num">30in</span>,{" "}
        <span className="num">3/8 in</span>, <span className="num">180 ozin</span>,{" "}
        <span className="num">1 ft 6 in</span>, <span className="num">1000 mm/s^2</span>.
      </p>
    </div>
  );
}

const SAVED: Record<string, string> = {
  saved: "saved",
  saving: "saving…",
  waiting: "unsaved",
  failing: "kept here",
  conflict: "two versions",
  refused: "not saved",
};

export function Head({ openCommands }: { openCommands: () => void }) {
  const { session } = useBench();
  const machine = usePick((v) => v.machine);
  const machineId = usePick((v) => v.machineId);
  const name = usePick((v) => v.design.name);
  const save = usePick((v) => v.save);
  const version = usePick((v) => v.version);
  const canUndo = usePick((v) => v.canUndo);
  const canRedo = usePick((v) => v.canRedo);
  return (
    <header className={css.head}>
      <Mark />
      <div className={css.where}>
        <Link to={`/machine/${machineId}`}>{machine}</Link> <span className="quiet">/</span> <b>{name}</b>
      </div>
      <span className={css.saved} role="status" data-save={save} title={`revision ${version}`}>
        {SAVED[save]} · rev. {version}
      </span>
      <div className={css.right}>
        <Act plain fast onClick={session.undo} disabled={!canUndo} title="Undo (Ctrl Z)">
          Undo
        </Act>
        <Act plain fast onClick={session.redo} disabled={!canRedo} title="Redo (Ctrl Y)">
          Redo
        </Act>
        <Act plain onClick={openCommands} title="Search every command (Ctrl K)">
          Commands
        </Act>
        <Switches />
      </div>
    </header>
  );
}
