/** From this aim to an axis: up to three whole designs that hold, each with its reason, its money and what it gives up. */
import { useRef, useState } from "react";
import { askLines, type Design, type Proposals } from "../../api/client";
import { useForm } from "../../api/queries";
import { useBench, usePick } from "../../design/context";
import { changedLeaves } from "../../design/chosen";
import { VerdictMark } from "../../frame/verdict";
import { Act } from "../../kit/Act";
import { Waiting } from "../../kit/Fetched";
import { Failed } from "../../kit/Notice";
import { Fold, Sheet } from "../../kit/sheets";
import { about } from "../../units/format";
import css from "./propose.module.css";

type Proposal = Proposals["found"][number];
type Line = { done: number; answer?: Proposals | null };
/** What a proposal sets; name, purpose and what moves stay. */
const SET = ["chain", "end", "guide", "aim"] as const;

export function Propose() {
  const { session } = useBench();
  const [done, setDone] = useState(0);
  const stop = useRef<AbortController | null>(null);
  const asking = useForm(async (design: Design) => {
    let answer: Proposals | null = null;
    setDone(0);
    await askLines<Line>(
      "/propose",
      { body: { design }, signal: (stop.current = new AbortController()).signal },
      (line) => {
        setDone(line.done);
        answer = line.answer ?? null;
      },
    );
    return answer as Proposals | null;
  });
  const found = asking.isPending ? null : asking.data;
  return (
    <Sheet
      title="From this aim to an axis"
      note="whole axes that hold, with every part and what is still to pay; your own parts first"
      data-propose
    >
      <div className={css.start}>
        {asking.isPending ? (
          <Act onClick={() => stop.current?.abort()}>Stop</Act>
        ) : (
          <Act main big onClick={() => asking.mutate(session.get().design)}>
            {found ? "Propose again" : "Propose"}
          </Act>
        )}
        {asking.isPending && <Waiting done={done}>Putting parts together…</Waiting>}
      </div>
      <Failed of={asking.error} title="The proposals broke off" />
      {found && (
        <>
          {found.says && <p data-propose-says>{found.says}</p>}
          <ul className={css.proposals}>
            {found.found.map((p) => (
              <One key={p.name} proposal={p} />
            ))}
          </ul>
        </>
      )}
    </Sheet>
  );
}

function One({ proposal: p }: { proposal: Proposal }) {
  const { session } = useBench();
  const currency = usePick((v) => v.design.aim.currency);
  const take = () => {
    const now = session.get().design;
    const changes = {
      ...Object.fromEntries(SET.map((k) => [k, p.design[k]])),
      measured: [],
      made: [],
      done: [],
    };
    session.setAll(
      changes,
      "",
      SET.flatMap((k) => changedLeaves(now[k], p.design[k], k)),
    );
  };
  return (
    <li className={css.proposal} data-proposal={p.name}>
      <div className={css.name}>
        <h3>{p.name}</h3>
        <VerdictMark verdict={p.verdict} />
      </div>
      <p className={css.money}>
        {about(p.money, currency, p.typical > 0)} <span className="quiet small">still to spend</span>
      </p>
      <p>{p.reason}</p>
      <p className="quiet small">{p.gives_up}</p>
      <Fold title="Parts" says={`${p.parts.length} on the bill`}>
        <ul>
          {p.parts.map((part) => (
            <li key={part} className="small">
              {part}
            </li>
          ))}
        </ul>
      </Fold>
      <Act main aria-label={`Take the ${p.name}`} onClick={take}>
        Take it
      </Act>
    </li>
  );
}
