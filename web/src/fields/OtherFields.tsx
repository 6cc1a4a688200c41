/** Choices, words and ticks of the design. */
import { useId } from "react";
import { useBench, usePick } from "../design/context";
import { fieldAt, type Schema } from "../design/fields";
import { getAt } from "../design/path";

function useField(path: string) {
  const { session, start } = useBench();
  const value = usePick((v) => getAt(v.design, path));
  const problem = usePick((v) => v.problems.find((p) => p.field === path));
  return {
    session,
    field: fieldAt(start.design_schema as unknown as Schema, session.get().design, path),
    value,
    problem,
  };
}

export function ChoiceField({
  path,
  label,
  options,
}: {
  path: string;
  label?: string;
  options?: { value: string; label: string }[];
}) {
  const { session, field, value, problem } = useField(path);
  const id = useId();
  const listed = options ?? field.choices.map((c) => ({ value: c, label: c }));
  return (
    <div className={`field ${problem ? "bad" : ""}`}>
      <label className="name" htmlFor={id}>
        {label ?? field.title}
      </label>
      <div className="box" title={field.why}>
        <select
          id={id}
          data-path={path}
          value={String(value ?? "")}
          onChange={(e) => session.set(path, e.target.value)}
        >
          {listed.map((o) => (
            <option key={o.value} value={o.value}>
              {o.label}
            </option>
          ))}
        </select>
      </div>
      {problem && (
        <div className="under" role="alert">
          {problem.message}. {problem.remedy}
        </div>
      )}
    </div>
  );
}

export function TextField({ path, label, long }: { path: string; label?: string; long?: boolean }) {
  const { session, field, value } = useField(path);
  const id = useId();
  const shared = {
    id,
    "data-path": path,
    value: String(value ?? ""),
    maxLength: field.longest,
    onChange: (e: { target: { value: string } }) => session.set(path, e.target.value),
  };
  return (
    <div className="field text">
      <label className="name" htmlFor={id}>
        {label ?? field.title}
      </label>
      <div className="box" title={field.why}>
        {long ? <textarea rows={2} {...shared} /> : <input {...shared} />}
      </div>
    </div>
  );
}

export function TickField({ path, label }: { path: string; label?: string }) {
  const { session, field, value } = useField(path);
  const id = useId();
  return (
    <div className="field check">
      <input
        type="checkbox"
        id={id}
        data-path={path}
        checked={value === true}
        onChange={(e) => session.set(path, e.target.checked)}
      />
      <label className="name" htmlFor={id}>
        {label ?? field.title}
      </label>
    </div>
  );
}
