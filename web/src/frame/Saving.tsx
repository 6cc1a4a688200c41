/** What the top of every step says when something is not as it should be: not saved, two versions, found drafts, a design that cannot be worked out. */
import type { Design } from "../api/client";
import { useBench, usePick, useShow } from "../design/context";
import { fieldAt, titleAt, type Schema } from "../design/fields";
import { pathOf } from "../design/rows";
import { useTellLost } from "../design/typed";
import { Clashing, plainly } from "../kit/Clashing";
import { Notice, told } from "../kit/Notice";
import { useGo } from "../design/go";
import { plainPath } from "./Ladder";
import { moment } from "../units/format";
import { capital, lower } from "../units/words";

export function Saving() {
  const { session } = useBench();
  const save = usePick((v) => v.save);
  const why = usePick((v) => v.why);
  const kept = usePick((v) => v.kept);
  const laid = usePick((v) => v.laid);
  useTellLost("design", !kept && save !== "saved");
  if (save === "conflict") return <Clashes />;
  const here = kept
    ? "Your change is kept in this browser"
    : "Not kept: this browser takes nothing more, so leave this page open; your change";
  if (save === "failing")
    return (
      <Notice title="Not saved yet" actions={[{ says: "Try now", run: () => void session.saveNow() }]}>
        {why} {here} {kept && "and "}is saved by itself as soon as that works again.
      </Notice>
    );
  if (save === "refused")
    return (
      <Notice title="Not saved yet" actions={[{ says: "Undo", run: session.undo }]}>
        {why}{" "}
        {kept ? `${here}.` : "It is not kept either: this browser takes nothing more. Leave this page open."}
      </Notice>
    );
  if (laid.length > 0)
    return (
      <Notice
        title="Another window has changed this axis too"
        grave={false}
        actions={[{ says: "Close", run: session.heard }]}
        data-laid
      >
        It has set <Named refs={laid} />; what you changed here stands beside it. How it was before stands
        under Log, Revisions.
      </Notice>
    );
  return null;
}

/** Fields by the references that two windows speak of. */
function Named({ refs }: { refs: readonly string[] }) {
  const { session, start } = useBench();
  const { design } = session.get();
  const said = [...new Set(refs.map((ref) => lower(nameOf(start.design_schema, design, ref))))];
  return (
    <>
      {said.slice(0, MOST_NAMED).join(", ")}
      {said.length > MOST_NAMED && ` and ${said.length - MOST_NAMED} more`}
    </>
  );
}
const MOST_NAMED = 4;

const nameOf = (schema: Schema, design: Design, ref: string) => {
  const path = pathOf(design, ref);
  return path === null ? "a row that was removed here" : titleAt(schema, design, path);
};

function Clashes() {
  const { session, start } = useBench();
  const clashes = usePick((v) => v.clashes);
  const why = usePick((v) => v.why);
  const design = usePick((v) => v.design);
  const show = useShow();
  const value = (ref: string, of: unknown) => {
    const path = pathOf(design, ref);
    return typeof of === "number" && path !== null
      ? show(of, fieldAt(start.design_schema, design, path).unit, 6).said
      : plainly(of);
  };
  return (
    <Clashing
      each
      pick={(refs, mine) => session.pick(refs, mine)}
      clashes={clashes.map((c) => ({
        ref: c.ref,
        name: lower(nameOf(start.design_schema, design, c.ref)),
        mine: value(c.ref, c.mine),
        theirs: value(c.ref, c.theirs),
      }))}
    >
      {clashes.length === 0
        ? why || "Looking at what it has saved…"
        : "All else of both windows stands. Nothing was overwritten: what does not count comes back with Undo, and stands under Log, Revisions."}
    </Clashing>
  );
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
