/** Where parts may come from, and taking a found drive into the design. */
import { useBench } from "../../design/context";
import { Pick } from "../../kit/inputs";

export type Scope = "drawer only" | "drawer first" | "anything";

const SCOPES = [
  { value: "drawer only", label: "only what I own" },
  { value: "drawer first", label: "what I own first" },
  { value: "anything", label: "the whole list" },
] as const;

export const ScopeChoice = ({ scope, choose }: { scope: Scope; choose: (scope: Scope) => void }) => (
  <Pick bare label="Where to look" value={scope} options={SCOPES} onValue={(v) => choose(v as Scope)} />
);

/** Puts a combination into the design: the stages first, then everything by its path; one step to undo. */
export function useTake() {
  const { session } = useBench();
  return ({ stages, ...rest }: Record<string, unknown>) =>
    session.setAll({ chain: [session.get().design.chain[0], ...((stages as unknown[]) ?? [])], ...rest });
}
