/** Every field of one part of the design, drawn from the design's own description: a new kind of part needs no form of its own. */
import { useBench, usePick } from "../design/context";
import { fieldsOf, type Schema } from "../design/fields";
import { getAt } from "../design/path";
import { NumberField } from "../fields/NumberField";
import { PartPicker } from "./PartPicker";
import { ChoiceField, TextField, TickField } from "../fields/OtherFields";

export function PartForm({
  path,
  without = [],
  nested = true,
}: {
  path: string;
  without?: string[];
  nested?: boolean;
}) {
  const { session, start } = useBench();
  const kind = usePick((v) => (getAt(v.design, path) as { kind?: string } | undefined)?.kind ?? "");
  const listed = fieldsOf(start.design_schema as unknown as Schema, session.get().design, path).filter(
    (f) => !without.includes(f.path.slice(path.length + 1)),
  );
  const parts = listed.filter((f) => f.shape === "part");
  return (
    <div data-form={path} data-kind={kind}>
      <Assumed path={path} />
      <div className="fields">
        {listed
          .filter((f) => f.shape !== "part")
          .map((f) => (
            <One key={f.path} path={f.path} shape={f.shape} />
          ))}
      </div>
      {nested &&
        parts.map((f) => (
          <div key={f.path} className="nested">
            <h3 style={{ display: "flex", alignItems: "center", gap: 10 }}>
              {f.title.replace(/^./, (c) => c.toUpperCase())} <PartPicker path={f.path} />
            </h3>
            <PartForm path={f.path} />
          </div>
        ))}
    </div>
  );
}

/** Data of a part that its row in the drawer did not state. */
function Assumed({ path }: { path: string }) {
  const note = usePick((v) => (getAt(v.design, `${path}.source.note`) as string | undefined) ?? "");
  const at = note.indexOf("not stated, assumed: ");
  return at < 0 ? null : (
    <p className="note small" data-assumed>
      Assumed, for its row in the drawer does not state it: {note.slice(at + 21)}.
    </p>
  );
}

function One({ path, shape }: { path: string; shape: string }) {
  const { start } = useBench();
  const name = path.split(".").at(-1) ?? "";
  const owner = path.slice(0, -name.length - 1);
  const profile = usePick((v) => (getAt(v.design, owner) as { profile?: string } | undefined)?.profile);
  if (name === "profile")
    return (
      <ChoiceField
        path={path}
        options={start.profiles.map((p) => ({ value: p.key, label: `${p.name}, pitch ${p.pitch_mm} mm` }))}
      />
    );
  if (shape === "choice") return <ChoiceField path={path} />;
  if (shape === "tick") return <TickField path={path} />;
  if (shape === "text") return <TextField path={path} />;
  return (
    <NumberField
      path={path}
      sizes={
        name === "width_mm" && profile ? start.profiles.find((p) => p.key === profile)?.widths_mm : undefined
      }
    />
  );
}
