/** Beside a form: what was typed there and not sent can be thrown away. */
import { useNotKept, type Draft } from "../design/typed";
import { Act } from "./Act";
import { Notice } from "./Notice";

export const Unsent = ({ of, what }: { of: Pick<Draft<object>, "typed" | "drop">; what: string }) =>
  of.typed ? (
    <Act plain aria-label={`Throw away ${what}`} onClick={of.drop}>
      Throw away
    </Act>
  ) : null;

/** At the top of a page whose text this browser does not take. */
export const NotKept = () =>
  useNotKept() ? (
    <Notice title="Not kept" data-not-kept>
      This browser takes nothing more to keep (its room is full, or the window is private). What you have
      typed stands on this page only: send it before you close the page.
    </Notice>
  ) : null;
