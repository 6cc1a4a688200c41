/** From this aim to an axis: up to three whole designs that hold, each with its reason, its money and what it gives up. */
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import type { Proposals } from "../../api/client";
import { useLongWork } from "../../api/queries";
import { useBench, usePick } from "../../design/context";
import { changedLeaves } from "../../design/chosen";
import { VerdictMark } from "../../frame/verdict";
import { Act } from "../../kit/Act";
import { Waiting } from "../../kit/Fetched";
import { Failed } from "../../kit/Notice";
import { Fold, Sheet } from "../../kit/sheets";
import { about, counted } from "../../units/format";
import css from "./propose.module.css";

type Proposal = Proposals["found"][number];
/** What a proposal sets; what moves is another only where nothing holds for what was asked. */
const SET = ["chain", "end", "guide", "aim", "moving"] as const;

export function Propose() {
  const { session } = useBench();
  const asking = useLongWork<Proposals>("/propose");
  const found = asking.answer;
  // A new axis comes with the wish for proposals: they are asked for at once, and the first of them is at hand.
  const { state, pathname } = useLocation();
  const navigate = useNavigate();
  const wished = Boolean((state as { propose?: boolean } | null)?.propose);
  const here = useRef<HTMLDivElement>(null);
  const led = useRef(false);
  useEffect(() => {
    if (!wished || led.current) return;
    led.current = true;
    here.current?.scrollIntoView({ block: "start" });
    asking.begin(session.get().design);
    void navigate(pathname, { replace: true, state: null });
  });
  useEffect(() => {
    if (!found || !led.current) return;
    led.current = false;
    // Whoever has gone on to a field meanwhile is not called away from it.
    const busy = document.activeElement?.closest("input, select, textarea, [role=dialog]");
    if (busy) return;
    here.current?.scrollIntoView({ block: "start" });
    here.current?.closest("[data-propose]")?.querySelector<HTMLElement>("[data-take]")?.focus();
  }, [found]);
  const [taken, setTaken] = useState("");
  return (
    <Sheet
      title="From this aim to an axis"
      note="whole axes that hold, with every part and what is still to pay; your own parts first"
      data-propose
    >
      <div className={css.start} ref={here}>
        {asking.busy ? (
          <Act onClick={asking.stop}>Stop</Act>
        ) : (
          <Act main big onClick={() => asking.begin(session.get().design)}>
            {found ? "Propose again" : "Propose"}
          </Act>
        )}
        {asking.busy && (
          <Waiting done={asking.done}>
            {asking.place > 0 ? `${counted(asking.place, "other")} before this…` : "Putting parts together…"}
          </Waiting>
        )}
        {taken && found && (
          <span role="status">The {taken} is taken in. Undo brings back what stood here.</span>
        )}
      </div>
      <Failed of={asking.error} title="The proposals broke off" />
      {found && (
        <>
          {found.says && <p data-propose-says>{found.says}</p>}
          <ul className={css.proposals}>
            {found.found.map((p) => (
              <One key={p.name} proposal={p} taken={() => setTaken(p.name)} />
            ))}
          </ul>
        </>
      )}
    </Sheet>
  );
}

function One({ proposal: p, taken }: { proposal: Proposal; taken: () => void }) {
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
    taken();
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
      <Act main data-take aria-label={`Take the ${p.name}`} onClick={take}>
        Take it
      </Act>
    </li>
  );
}
