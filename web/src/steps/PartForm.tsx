/** Every field of one part of the design, drawn from the design's own description: a new kind of part needs no form of its own. */
import { useBench, usePick } from "../design/context";
import { fieldsOf, type Listed } from "../design/fields";
import { getAt } from "../design/path";
import { Folded } from "../fields/Folded";
import { NumberField } from "../fields/NumberField";
import { ChoiceField, TextField, TickField } from "../fields/OtherFields";
import { Fields, Note, Part } from "../kit/sheets";
import { PartPicker } from "./PartPicker";
import { capital } from "../units/words";

interface Props {
  path: string;
  without?: string[];
  nested?: boolean;
  /** All of it folds: what it decides is settled elsewhere, or by few. */
  folded?: string;
}

export function PartForm({ path, without = [], nested = true, folded }: Props) {
  const { session, start } = useBench();
  const kind = usePick((v) => (getAt(v.design, path) as { kind?: string } | undefined)?.kind ?? "");
  const listed = fieldsOf(start.design_schema, session.get().design, path).filter(
    (f) => !without.includes(f.path.slice(path.length + 1)),
  );
  const parts = listed.filter((f) => f.shape === "part");
  const own = listed.filter((f) => f.shape !== "part");
  const first = folded ? [] : own.filter((f) => f.first);
  const rest = own.filter((f) => !first.includes(f));
  return (
    <div data-form={path} data-kind={kind}>
      <Assumed path={path} />
      {first.length > 0 && <Laid fields={first} />}
      {rest.length > 0 && (
        <Folded title={folded ?? (first.length > 0 ? "More" : "All of it")} paths={rest.map((f) => f.path)}>
          <Laid fields={rest} />
        </Folded>
      )}
      {nested &&
        parts.map((f) => (
          <Part key={f.path} title={capital(f.title)} aside={<PartPicker path={f.path} />}>
            <PartForm path={f.path} />
          </Part>
        ))}
    </div>
  );
}

const Laid = ({ fields }: { fields: readonly Listed[] }) => (
  <Fields>
    {fields.map((f) => (
      <One key={f.path} path={f.path} shape={f.shape} />
    ))}
  </Fields>
);

/** Data of a part that its row in the drawer did not state. */
function Assumed({ path }: { path: string }) {
  const note = usePick((v) => (getAt(v.design, `${path}.source.note`) as string | undefined) ?? "");
  const at = note.indexOf("not stated, assumed: ");
  return at < 0 ? null : (
    <Note data-assumed-note>
      Assumed, for its row in the drawer does not state it: {note.slice(at + 21)}.
    </Note>
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
