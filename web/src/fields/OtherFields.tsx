/** Choices, words and ticks of the design. */
import { useBench, usePick } from "../design/context";
import { fieldAt } from "../design/fields";
import { getAt } from "../design/path";
import { Pick, Tick, Words, type Option } from "../kit/inputs";
import { useAssumed } from "./assumed";

function useField(path: string) {
  const { session, start } = useBench();
  const value = usePick((v) => getAt(v.design, path));
  const problem = usePick((v) => v.problems.find((p) => p.field === path));
  return {
    session,
    field: fieldAt(start.design_schema, session.get().design, path),
    value,
    error: problem && `${problem.message}. ${problem.remedy}`,
  };
}

interface Props {
  path: string;
  label?: string;
  bare?: boolean;
}

export function ChoiceField({ path, label, options, bare }: Props & { options?: readonly Option[] }) {
  const { session, field, value, error } = useField(path);
  const assumed = useAssumed(path);
  const choose = (v: string) => {
    const beside = Object.entries(field.carries?.[v] ?? {});
    if (v === value || beside.length === 0) return session.set(path, v);
    const owner = path.slice(0, path.lastIndexOf(".") + 1);
    session.setAll({ [path]: v, ...Object.fromEntries(beside.map(([name, x]) => [owner + name, x])) }, "", [
      path,
    ]);
  };
  return (
    <Pick
      path={path}
      label={label ?? field.title}
      bare={bare}
      hint={field.why}
      value={String(value ?? "")}
      error={error}
      assumed={assumed}
      options={options ?? field.choices}
      onValue={choose}
    />
  );
}

export function TextField({ path, label, bare, long }: Props & { long?: boolean }) {
  const { session, field, value, error } = useField(path);
  return (
    <Words
      path={path}
      label={label ?? field.title}
      bare={bare}
      hint={field.why}
      value={String(value ?? "")}
      most={field.longest}
      rows={long ? 2 : undefined}
      error={error}
      onValue={(v) => session.set(path, v)}
    />
  );
}

export function TickField({ path, label }: Props) {
  const { session, field, value } = useField(path);
  return (
    <Tick
      path={path}
      label={label ?? field.title}
      hint={field.why}
      on={value === true}
      onValue={(on) => session.set(path, on)}
    />
  );
}
