/** The top line: where you are, what is saved, undo and redo, units, light and dark, help. */
import { useState } from "react";
import { Link } from "react-router";
import { Modal, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useBench, useSystem, useView } from "../design/context";

export function Mark() {
  return (
    <Link to="/" className="mark">
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

export function Switches() {
  const [system, setSystem] = useSystem();
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme("light");
  const [help, setHelp] = useState(false);
  useHotkeys([
    ["shift+?", () => setHelp(true)],
    ["?", () => setHelp(true)],
  ]);
  return (
    <>
      <button
        className="icon"
        onClick={() => setSystem(system === "metric" ? "imperial" : "metric")}
        title="Switch between millimetres and inches"
      >
        {system === "metric" ? "mm · N" : "in · lbf"}
      </button>
      <button
        className="icon"
        onClick={() => setColorScheme(scheme === "dark" ? "light" : "dark")}
        title="Light or dark"
      >
        {scheme === "dark" ? "Light" : "Dark"}
      </button>
      <button
        className="icon"
        onClick={() => setHelp(true)}
        aria-label="Keyboard shortcuts"
        title="Keyboard shortcuts (?)"
      >
        ?
      </button>
      <Modal opened={help} onClose={() => setHelp(false)} title="Keys" size="md">
        <Keys />
      </Modal>
    </>
  );
}

const KEYS: [string, string][] = [
  ["1 … 7", "go to a step (Alt with the digit while typing)"],
  ["Tab", "to the next field"],
  ["↑ ↓", "a number up or down, through what can be bought where that is known; Shift for larger steps"],
  ["← →", "along the drive line; along the travel on a drawing"],
  ["Esc", "take back what was typed"],
  ["Ctrl Z, Ctrl Y", "undo, redo"],
  ["Ctrl K", "search every command"],
  ["Ctrl S", "save at once (it saves by itself)"],
  ["?", "this sheet"],
];

function Keys() {
  return (
    <>
      <table>
        <tbody>
          {KEYS.map(([key, says]) => (
            <tr key={key}>
              <td style={{ whiteSpace: "nowrap" }}>
                <kbd>{key}</kbd>
              </td>
              <td>{says}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small quiet" style={{ marginTop: 10 }}>
        Any number field takes any unit: <span className="num">30in</span>,{" "}
        <span className="num">3/8 in</span>, <span className="num">180 ozin</span>,{" "}
        <span className="num">1 ft 6 in</span>.
      </p>
    </>
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
  const view = useView();
  return (
    <header className="head">
      <Mark />
      <div className="where">
        <span className="quiet">{view.machine} /</span> <b>{view.design.name}</b>
      </div>
      <span className="small quiet" role="status" data-save={view.save} title={`revision ${view.version}`}>
        {SAVED[view.save]} · rev. {view.version}
      </span>
      <div className="right">
        <button className="icon" onClick={session.undo} disabled={!view.canUndo} title="Undo (Ctrl Z)">
          Undo
        </button>
        <button className="icon" onClick={session.redo} disabled={!view.canRedo} title="Redo (Ctrl Y)">
          Redo
        </button>
        <button className="icon" onClick={openCommands} title="Search every command (Ctrl K)">
          Commands
        </button>
        <Switches />
      </div>
    </header>
  );
}
