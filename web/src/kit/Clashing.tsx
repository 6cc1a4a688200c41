/** What two windows have set each to something else: both values, and which of them counts. */
import { capital } from "../units/words";
import { Act } from "./Act";
import css from "./clashing.module.css";
import { Notice } from "./Notice";

export interface Clashed {
  ref: string;
  name: string;
  mine: string;
  theirs: string;
}

export function Clashing({
  clashes,
  pick,
  each = false,
  children,
}: {
  clashes: readonly Clashed[];
  pick: (refs: readonly string[], mine: boolean) => void;
  /** One by one as well. */
  each?: boolean;
  children: string;
}) {
  const all = clashes.map((c) => c.ref);
  return (
    <Notice
      title="Another window has set the same to something else"
      data-clashes
      actions={
        clashes.length === 0
          ? []
          : [
              { says: "Keep mine", main: true, run: () => pick(all, true) },
              { says: "Take theirs", run: () => pick(all, false) },
            ]
      }
    >
      <ul className={css.clashes}>
        {clashes.map((c) => (
          <li key={c.ref} data-clash={c.ref}>
            {capital(c.name)}: <b className="num">{c.mine}</b> here, <b className="num">{c.theirs}</b> there
            {each && clashes.length > 1 && (
              <>
                {" "}
                <Act plain aria-label={`Keep my ${c.name}`} onClick={() => pick([c.ref], true)}>
                  Mine
                </Act>
                <Act plain aria-label={`Take their ${c.name}`} onClick={() => pick([c.ref], false)}>
                  Theirs
                </Act>
              </>
            )}
          </li>
        ))}
      </ul>
      {children}
    </Notice>
  );
}

/** A value in words, where no field says how it is shown. */
export const plainly = (value: unknown) =>
  value === undefined
    ? "removed"
    : value === null || value === ""
      ? "empty"
      : typeof value === "object"
        ? "something else"
        : String(value);
