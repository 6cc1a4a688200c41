/** Where parts may come from, and taking a found drive into the design. */
import { useBench } from "../../design/context";

export type Scope = "drawer only" | "drawer first" | "anything";

export function ScopeChoice({ scope, choose }: { scope: Scope; choose: (scope: Scope) => void }) {
  return (
    <select
      className="act"
      aria-label="Where to look"
      value={scope}
      onChange={(e) => choose(e.target.value as Scope)}
    >
      <option value="drawer only">only what I own</option>
      <option value="drawer first">what I own first</option>
      <option value="anything">the whole list</option>
    </select>
  );
}

/** Puts a combination into the design: the stages first, then everything by its path; one step to undo. */
export function useTake() {
  const { session } = useBench();
  return ({ stages, ...rest }: Record<string, unknown>) =>
    session.setAll({ chain: [session.get().design.chain[0], ...((stages as unknown[]) ?? [])], ...rest });
}
