/** One change: every single swap and step from here, what it does to every target, what it costs; the cheapest that mends. */
import { Fragment, useState } from "react";
import type { Changes } from "../../api/client";
import { useChanges } from "../../api/queries";
import { useBench, usePick, useView } from "../../design/context";
import { VerdictMark } from "../../frame/verdict";
import { money, number } from "../../units/format";
import { Refused } from "./Refused";

type Change = Changes["singles"][number];
const times = (h: number | null) => (h === null ? "–" : `${number(h, 3)} ×`);

export default function OneChange() {
  const view = useView();
  const [done, setDone] = useState(0);
  const changes = useChanges(view.design, true, setDone);
  const [open, setOpen] = useState("");
  const [kind, setKind] = useState("");
  const found = changes.data;
  if (!found)
    return (
      <>
        <Refused error={changes.error} />
        {changes.isPending && (
          <p role="status">
            <progress value={done} max={1} aria-label="How much is tried" /> Trying every single change…
          </p>
        )}
      </>
    );
  const mend = found.pair && (!found.cheapest || found.cheapest.asks_less) ? found.pair : found.cheapest;
  const kinds = [...new Set(found.singles.map((c) => c.first.says))];
  // Of every kind of change the one that leaves the axis best; all of one kind when it is chosen.
  const shown = kind
    ? found.singles.filter((c) => c.first.says === kind)
    : kinds.map((k) => found.singles.find((c) => c.first.says === k)).filter((c) => c !== undefined);
  return (
    <div data-changes>
      <p data-changes-says>
        <b>{found.says}</b>{" "}
        <span className="quiet small">
          {found.tried} single changes worked out whole
          {found.pairs_tried > 0 && `, ${found.pairs_tried} pairs of them`}
          {found.refused > 0 && `; ${found.refused} could not be built`}. To pay is what is not in the drawer
          yet; what is made or set in the shop counts as nothing.
        </span>
      </p>
      {mend && <Mend change={mend} />}
      <div style={{ display: "flex", gap: 8, alignItems: "center", margin: "8px 0 2px" }}>
        <label className="small quiet" htmlFor="change-kind">
          Show
        </label>
        <select id="change-kind" className="act" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">the best of each kind</option>
          {kinds.map((k) => (
            <option key={k} value={k}>
              {k} ({found.singles.filter((c) => c.first.says === k).length})
            </option>
          ))}
        </select>
      </div>
      <div style={{ maxHeight: 360, overflowY: "auto" }}>
        <table className="wide rows">
          <thead>
            <tr>
              <th>Change</th>
              <th className="r">To pay</th>
              <th className="r" style={{ whiteSpace: "nowrap" }}>
                Least headroom
                <br />
                now {times(found.worst)}
              </th>
              <th style={{ whiteSpace: "nowrap" }}>Leaves the axis</th>
              <th>Other targets</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {shown.map((c) => {
              const id = c.first.says + c.first.after;
              return (
                <Fragment key={id}>
                  <Row change={c} open={open === id} toggle={() => setOpen(open === id ? "" : id)} />
                  {open === id && (
                    <tr>
                      <td colSpan={6}>
                        <Effects change={c} />
                      </td>
                    </tr>
                  )}
                </Fragment>
              );
            })}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Price({ change }: { change: Change }) {
  const currency = usePick((v) => v.design.aim.currency);
  return (
    <>
      {change.price === null ? (
        <span className="quiet">not known</span>
      ) : change.price === 0 ? (
        "nothing"
      ) : (
        money(change.price, currency)
      )}
    </>
  );
}

function Mend({ change }: { change: Change }) {
  const { session } = useBench();
  return (
    <div className="mend" data-mend>
      <span>
        {[change.first, ...(change.second ? [change.second] : [])].map((s, i) => (
          <span key={s.says}>
            {i > 0 && <b> and </b>}
            {s.says}:{" "}
            <b>
              {s.before} → {s.after}
            </b>
          </span>
        ))}
        <br />
        <span className="quiet small">
          To pay: <Price change={change} />. After it: {change.in_words}.
        </span>
      </span>
      <button className="act main" onClick={() => session.setAll(change.changes)}>
        Take it
      </button>
    </div>
  );
}

function Row({ change: c, open, toggle }: { change: Change; open: boolean; toggle: () => void }) {
  const { session } = useBench();
  const s = c.first;
  const better = c.effects.filter((e) => (e.after ?? Infinity) > (e.before ?? Infinity)).length;
  return (
    <tr data-change={s.says}>
      <td>
        {s.says}:{" "}
        <b>
          {s.before} → {s.after}
        </b>
        {c.asks_less && <span className="quiet"> · asks less</span>}
      </td>
      <td className="r num">
        <Price change={c} />
      </td>
      <td className="r num">{times(c.worst)}</td>
      <td>
        <VerdictMark verdict={c.verdict} />
      </td>
      <td>
        <button className="plain" style={{ whiteSpace: "nowrap" }} aria-expanded={open} onClick={toggle}>
          {better} up, {c.effects.length - better} down
        </button>
      </td>
      <td className="r">
        <button
          className="act tight"
          aria-label={`Take: ${s.says}, ${s.after}`}
          onClick={() => session.setAll(c.changes)}
        >
          Take it
        </button>
      </td>
    </tr>
  );
}

function Effects({ change }: { change: Change }) {
  if (!change.effects.length) return <p className="quiet small">No target changes.</p>;
  return (
    <ul className="effects">
      {change.effects.map((e) => (
        <li key={e.key}>
          <span>{e.label}</span>{" "}
          <span className="num">
            {times(e.before)} → {times(e.after)}
          </span>{" "}
          <VerdictMark verdict={e.verdict} />
        </li>
      ))}
    </ul>
  );
}
