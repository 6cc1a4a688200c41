/** Search the drawer: every buildable drive for this aim, what rejects the others, and the best of those that hold. */
import { useState } from "react";
import type { SearchAnswer } from "../../api/client";
import { useLongWork } from "../../api/queries";
import { useBench, usePick } from "../../design/context";
import { Act } from "../../kit/Act";
import { Waiting } from "../../kit/Fetched";
import { Tick } from "../../kit/inputs";
import { Failed } from "../../kit/Notice";
import { Line } from "../../kit/sheets";
import { SearchFound } from "./SearchFound";
import { ScopeChoice, type Scope } from "./scope";

const REDUCTIONS = [
  ["direct", "direct"],
  ["gearbox", "gearbox"],
  ["closed belt", "one closed belt"],
  ["two closed belts", "two closed belts"],
] as const;
type Reduction = (typeof REDUCTIONS)[number][0];

export default function Search() {
  const { session } = useBench();
  const [scope, setScope] = useState<Scope>("anything");
  const [kinds, setKinds] = useState<Reduction[]>(["direct", "gearbox", "closed belt"]);
  const search = useLongWork<SearchAnswer>("/search", { scope, reductions: kinds });
  const { answer, done, place } = search;
  const now = usePick((v) => v.design);
  const tick = (kind: Reduction, on: boolean) =>
    setKinds((k) => (on ? [...k, kind] : k.filter((x) => x !== kind)));
  return (
    <div data-search>
      <Line spread>
        <Line>
          <ScopeChoice scope={scope} choose={setScope} />
          <Line role="group" aria-label="Reductions to try">
            {REDUCTIONS.map(([kind, name]) => (
              <Tick key={kind} label={name} on={kinds.includes(kind)} onValue={(on) => tick(kind, on)} />
            ))}
          </Line>
        </Line>
        {search.busy ? (
          <Act onClick={search.stop}>Stop</Act>
        ) : (
          <Act main disabled={!kinds.length} onClick={() => search.begin(session.get().design)}>
            Search
          </Act>
        )}
      </Line>
      {search.busy && place > 0 && (
        <Waiting>
          {place === 1 ? "Another search is" : `${place} other searches are`} before this one; it begins by
          itself.
        </Waiting>
      )}
      {search.busy && place === 0 && (
        <Waiting done={done}>
          <span className="num">{Math.floor(done * 100)} %</span> of the combinations tried…
          {kinds.includes("two closed belts") &&
            done < 0.05 &&
            " two closed belts make a very large space; this takes minutes"}
        </Waiting>
      )}
      <Failed of={search.error} title="The search broke off" />
      {answer && search.of !== now && (
        <p className="quiet small" role="note">
          The design has changed since this search; search again for what it is now.
        </p>
      )}
      {answer && <SearchFound key={answer.tried + answer.holding} answer={answer} />}
    </div>
  );
}
