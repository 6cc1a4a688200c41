/** What the top of every step says when something is not as it should be: not saved, two versions, found drafts, a design that cannot be worked out. */
import { useState } from "react";
import { useBench, usePick } from "../design/context";
import { Notice, told } from "../kit/Notice";
import { useGo } from "../design/go";
import { plainPath } from "./Ladder";
import { moment } from "../units/format";
import { capital } from "../units/words";

export function Saving() {
  const { session } = useBench();
  const save = usePick((v) => v.save);
  const why = usePick((v) => v.why);
  const [busy, setBusy] = useState(false);
  const settle = (mine: boolean) => {
    setBusy(true);
    void session.settle(mine).finally(() => setBusy(false));
  };
  if (save === "conflict") {
    return (
      <Notice
        title="Another window has saved this axis"
        actions={[
          { says: "Keep mine, on top", main: true, busy, run: () => settle(true) },
          { says: "Take the other", busy, run: () => settle(false) },
        ]}
      >
        Nothing was overwritten; both designs are kept, this one in this browser until you decide, also when
        the window is closed. {why}
      </Notice>
    );
  }
  if (save === "failing")
    return (
      <Notice title="Not saved yet" actions={[{ says: "Try now", run: () => void session.saveNow() }]}>
        {why} Your change is kept in this browser and is saved by itself as soon as that works again.
      </Notice>
    );
  if (save === "refused")
    return (
      <Notice title="Not saved yet" actions={[{ says: "Undo", run: session.undo }]}>
        {why} Your change is kept in this browser.
      </Notice>
    );
  return null;
}

export function FoundDrafts() {
  const { session } = useBench();
  const found = usePick((v) => v.found);
  return found.map((d) => (
    <Notice
      key={d.key}
      grave={false}
      title="An unsaved change of this axis was found"
      actions={[
        { says: "Take it up", main: true, run: () => session.takeUp(d) },
        { says: "Drop it", run: () => session.leave(d) },
      ]}
    >
      A window was closed{d.at ? ` on ${moment(d.at)}` : ""} before it was saved, on top of revision {d.base}.
    </Notice>
  ));
}

/** A design that can no longer be worked out says so on every step. */
export function Unworked() {
  const { session, start } = useBench();
  const problem = usePick((v) => v.problems[0]);
  const more = usePick((v) => v.problems.length - 1);
  const report = usePick((v) => v.report);
  const canUndo = usePick((v) => v.canUndo);
  const go = useGo();
  if (!problem) return null;
  const field =
    (problem.field.split(".")[0] ?? "") in (start.design_schema.properties ?? {}) ? problem.field : "";
  return (
    <Notice
      title="This design cannot be worked out"
      actions={[
        ...(field ? [{ says: `Go to ${plainPath(field)}`, main: true, run: () => go(field, "aim") }] : []),
        ...(canUndo ? [{ says: "Undo", run: session.undo }] : []),
      ]}
    >
      {capital(`${field ? `${plainPath(field)} ` : ""}${told(problem)}`)}
      {more > 0 && ` ${more} more like this.`}{" "}
      {report ? "What is struck out below belongs to the last design that could be." : ""}
    </Notice>
  );
}
