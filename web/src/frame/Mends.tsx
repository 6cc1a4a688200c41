/** For what is short, the nearest value of its field that mends it, to take. */
import type { Reaches } from "../api/client";
import { useBench, useShow } from "../design/context";
import { Act } from "../kit/Act";
import css from "./ladder.module.css";

type Mend = Reaches["mends"][number];

export function Mends({ title, mends }: { title: string; mends: readonly Mend[] }) {
  if (!mends.length) return null;
  return (
    <>
      <h3>{title}</h3>
      <ul className={css.ways} data-mends>
        {mends.map((m) => (
          <One key={m.key} mend={m} />
        ))}
      </ul>
    </>
  );
}

function One({ mend: m }: { mend: Mend }) {
  const { session } = useBench();
  const show = useShow();
  const to = show(m.to, m.unit, 4).said;
  return (
    <li>
      <span>
        {m.title}:{" "}
        <b>
          {show(m.now, m.unit, 4).text} → {to}
        </b>
        {m.asks_less && <span className="quiet"> · asks less</span>}
        <br />
        <span className="quiet small">
          {m.spoils.length > 0 ? `Then short: ${m.spoils.join(", ")}.` : m.in_words}
        </span>
      </span>
      <Act aria-label={`Take: ${m.title}, ${to}`} onClick={() => session.setAll(m.changes)}>
        Take it
      </Act>
    </li>
  );
}
