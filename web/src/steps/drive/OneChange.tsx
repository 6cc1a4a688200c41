/** One change: every single swap and step from here, what it does to every target, what it costs; the cheapest that mends, or else the cheapest plan of several. */
import { Fragment, useState } from "react";
import type { Changes } from "../../api/client";
import { useChanges } from "../../api/queries";
import { useBench, usePick, useShow, useView } from "../../design/context";
import { VerdictMark } from "../../frame/verdict";
import { about, number } from "../../units/format";
import { Act } from "../../kit/Act";
import { Fetched, Waiting } from "../../kit/Fetched";
import { Pick } from "../../kit/inputs";
import { Acts, Line, Num, Table } from "../../kit/sheets";
import css from "./choose.module.css";

type Change = Changes["singles"][number];
const times = (h: number | null) => (h === null ? "–" : `${number(h, 3)} ×`);

export default function OneChange() {
  const view = useView();
  const [done, setDone] = useState(0);
  const changes = useChanges(view.design, true, setDone);
  return (
    <Fetched
      of={changes}
      what="the single changes"
      waiting={<Waiting done={done}>Trying every single change…</Waiting>}
    >
      {(found) => <Found found={found} />}
    </Fetched>
  );
}

function Found({ found }: { found: Changes }) {
  const [open, setOpen] = useState("");
  const [kind, setKind] = useState("");
  const mend = found.plan && (!found.cheapest || found.cheapest.asks_less) ? found.plan : found.cheapest;
  const kinds = [...new Set(found.singles.map((c) => c.first.says))];
  // Of every kind of change the one that leaves the axis best; all of one kind when it is chosen.
  const shown = kind
    ? found.singles.filter((c) => c.first.says === kind)
    : kinds.map((k) => found.singles.find((c) => c.first.says === k)).filter((c) => c !== undefined);
  const count = (k: string) => found.singles.filter((c) => c.first.says === k).length;
  return (
    <div data-changes>
      <p data-changes-says>
        <b>{found.says}</b>{" "}
        <span className="quiet small">
          {found.tried} single changes worked out whole
          {found.plans_tried > 0 && `, ${found.plans_tried} plans of several`}
          {found.refused > 0 && `; ${found.refused} could not be built`}. To pay is what is not in the drawer
          yet; what is made or set in the shop counts as nothing.
        </span>
      </p>
      {mend && <Mend change={mend} />}
      {found.reaches.length > 0 && <Reached aims={found.reaches} />}
      <Line>
        <Pick
          label="Show"
          value={kind}
          options={[
            { value: "", label: "the best of each kind" },
            ...kinds.map((k) => ({ value: k, label: `${k} (${count(k)})` })),
          ]}
          onValue={setKind}
        />
      </Line>
      <Table
        dense
        tall={360}
        label="Single changes"
        columns={[
          "Change",
          { name: "To pay", right: true },
          { name: `Least headroom, now ${times(found.worst)}`, right: true, width: 108 },
          "Leaves the axis",
          "Other targets",
          "",
        ]}
      >
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
      </Table>
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
        about(change.price, currency, change.typical)
      )}
    </>
  );
}

function Mend({ change }: { change: Change }) {
  const { session } = useBench();
  return (
    <div className={css.mend} data-mend>
      <span>
        {[change.first, ...change.others].map((s, i) => (
          <span key={s.says} data-step={s.says}>
            {i > 0 && <br />}
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
      <Act main big onClick={() => session.setAll(change.changes)}>
        Take it
      </Act>
    </div>
  );
}

/** With what comes closest: the most of each aim at which everything holds. */
function Reached({ aims }: { aims: Changes["reaches"] }) {
  const show = useShow();
  return (
    <ul className={css.effects} data-reached>
      {aims.map((a) => (
        <li key={a.path}>
          <span>{a.label} that holds with it</span>{" "}
          <span className="num">{a.most === null ? "none" : show(a.most, a.unit, 3).said}</span>{" "}
          <span className="quiet">{a.binds}</span>
        </li>
      ))}
    </ul>
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
      <Num>
        <Price change={c} />
      </Num>
      <Num>{times(c.worst)}</Num>
      <td>
        <VerdictMark verdict={c.verdict} />
      </td>
      <td>
        <Act plain aria-expanded={open} onClick={toggle}>
          {better} up, {c.effects.length - better} down
        </Act>
      </td>
      <Acts>
        <Act aria-label={`Take: ${s.says}, ${s.after}`} onClick={() => session.setAll(c.changes)}>
          Take it
        </Act>
      </Acts>
    </tr>
  );
}

function Effects({ change }: { change: Change }) {
  if (!change.effects.length) return <p className="quiet small">No target changes.</p>;
  return (
    <ul className={css.effects} data-effects>
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
