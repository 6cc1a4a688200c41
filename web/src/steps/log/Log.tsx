/** Dated entries, tension over time, and every revision to return to. */
import { useState, type FormEvent } from "react";
import { act, type LogBody, type LogEntry } from "../../api/client";
import { useChange, useLog } from "../../api/queries";
import { useBench, useNumbers, useScale, useShow, useView } from "../../design/context";
import { useDraft, useSent } from "../../design/typed";
import { RevisionTable } from "../../frame/RevisionTable";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { InSight } from "../../kit/InSight";
import { Day, Pick, Words } from "../../kit/inputs";
import { Failed } from "../../kit/Notice";
import { Cols, Sheet } from "../../kit/sheets";
import { Sure } from "../../kit/Sure";
import { Unsent } from "../../kit/Unsent";
import { LinePlot } from "../../plots/Lazy";
import { money, number } from "../../units/format";
import { Cautions } from "../Cautions";
import css from "./log.module.css";
import { isTension, keptOf, type Kept } from "../tune/measured";
import { today } from "./today";
import { useWriting } from "./writing";

export default function Log() {
  const { id } = useView();
  const log = useLog(id);
  return (
    <>
      <NewEntry />
      <Cols as="first">
        <Sheet title="Entries">
          <Fetched of={log} what="the log">
            {(entries) =>
              entries.length === 0 ? (
                <p className="quiet">
                  Nothing yet. A tension reading from Tune, a repair, or what you would do differently belongs
                  here.
                </p>
              ) : (
                <InSight rows={entries} keyOf={(e) => e.id}>
                  {(e) => <Entry entry={e} />}
                </InSight>
              )
            }
          </Fetched>
        </Sheet>
        <div>
          <TensionPlots entries={log.data ?? []} />
          <Revisions />
        </div>
      </Cols>
      <Cautions step="log" />
    </>
  );
}

function NewEntry() {
  const { design } = useView();
  const { start } = useBench();
  const draft = useDraft("new entry", { day: today(), kind: "note" as LogBody["kind"], says: "" });
  const { day, kind, says } = draft.value;
  const [cost, setCost] = useState<number | null>(null);
  const sent = useSent();
  const add = useWriting();
  const clear = () => (sent("cost"), setCost(null), draft.drop());
  const write = (e: FormEvent) => {
    e.preventDefault();
    if (add.isPending) return;
    add.mutate({ on_date: day, kind, says, cost, reading: null }, { onSuccess: clear });
  };
  return (
    <Sheet
      title="Write down"
      aside={<Unsent of={{ typed: draft.typed || cost !== null, drop: clear }} what="what is typed" />}
    >
      <form className={css.form} onSubmit={write}>
        <Day label="Day" value={day} onValue={(v) => draft.set({ day: v })} />
        <Pick
          label="Kind"
          value={kind}
          options={start.log_kinds}
          onValue={(k) => draft.set({ kind: k as LogBody["kind"] })}
        />
        <Words label="What happened" value={says} most={4000} onValue={(v) => draft.set({ says: v })} />
        <FreeNumber
          key={draft.turn}
          label="Cost"
          dimension="money"
          unit={design.aim.currency}
          units={start.units}
          name="cost"
          orNone
          onValue={setCost}
        />
        <Act big main type="submit" disabled={!says.trim() && cost === null} busy={add.isPending}>
          Write it down
        </Act>
      </form>
      <Failed of={add.error} title="It is not written down" />
    </Sheet>
  );
}

function Entry({ entry }: { entry: LogEntry }) {
  const { id, design } = useView();
  const strike = useChange(() => act(`/axes/${id}/log/${entry.id}`, { method: "DELETE" }), "log", "shelf");
  return (
    <article className={css.entry} data-entry={entry.kind}>
      <span className="num small">{entry.on_date}</span>
      <span className="small quiet">{entry.kind}</span>
      <span>
        {entry.reading && (
          <span className={css.reading}>
            <Reading kept={keptOf(entry)} />
          </span>
        )}
        {entry.says}
        {entry.cost ? (
          <span className="num small quiet"> {money(entry.cost, design.aim.currency)}</span>
        ) : null}
        <span className="small quiet nowrap"> rev. {entry.revision}</span>
      </span>
      <Sure
        label="Strike out"
        title="Strike this entry out?"
        says="It can't be brought back."
        busy={strike.isPending}
        run={() => strike.mutate(undefined)}
      />
    </article>
  );
}

/** What was read, in a line. */
function Reading({ kept: r }: { kept: Kept }) {
  const show = useShow();
  const said = (v: number | null | undefined, unit: string) => show(v, unit, 4).said;
  const off = r.verdict !== undefined && !["within the band", "right", "noted", "square"].includes(r.verdict);
  if (r.how === "trial")
    return (
      <>
        {r.name} <b className="num">{said(r.mean, r.unit ?? "")}</b>{" "}
        <span className={off ? "signal" : ""}>{TOLD[r.verdict ?? ""]}</span>
      </>
    );
  if (r.how === "wheels")
    return (
      <>
        Wheels <span className={r.verdict === "right" ? "" : "signal"}>{r.verdict}</span>{" "}
        <span className="small quiet">· {String(r.says ?? "")}</span>
      </>
    );
  if (r.how === "moves")
    return (
      <>
        <b className="num">
          {number(r.value ?? 0, 7)} {r.sets}
        </b>
        {typeof r.low === "number" && typeof r.high === "number" && (
          <span className="small quiet num">
            {" "}
            · to 95 % between {number(r.low, 7)} and {number(r.high, 7)}
          </span>
        )}
      </>
    );
  if (r.how === "diagonals" || r.how === "gauges")
    return (
      <>
        <b className="num">{said(Math.abs(r.lead_mm ?? 0), "mm")}</b>{" "}
        <span className={off ? "signal" : ""}>{r.verdict}</span>{" "}
        <span className="small quiet">· {String(r.says ?? "")}</span>
      </>
    );
  return (
    <>
      <b className="num">{said(r.tension_n, "N")}</b> <span className={off ? "signal" : ""}>{r.verdict}</span>
      <span className="small quiet">
        {" "}
        ·{" "}
        {r.frequency_hz
          ? `${number(r.frequency_hz, 4)} Hz on ${said(r.span_mm, "mm")}`
          : r.how === "scale"
            ? `${said(r.force_n, "N")} on a scale at the ${r.at === "idler" ? "idler" : "belt end"}`
            : `${r.how === "thumb" ? "a thumb" : said(r.force_n, "N")} for ${said(r.deflection_mm, "mm")} on ${said(r.span_mm, "mm")}`}
        {belt(r) && ` · ${belt(r)}`}
        {r.look_again && ` · look again by ${r.look_again}`}
      </span>
    </>
  );
}

const TOLD: Record<string, string> = { low: "too little", high: "too much", right: "right" };

/** Which belt a reading is of; the only open one is not said. */
const belt = (r: Kept) =>
  r.belt && r.belt !== "the belt"
    ? r.belt
    : r.of?.startsWith("chain.")
      ? `closed belt at stage ${Number(r.of.slice(6))}`
      : "";

/** Each belt has a plot of its own. */
function TensionPlots({ entries }: { entries: LogEntry[] }) {
  const read = entries.filter((e) => isTension(keptOf(e)));
  const names = new Set(read.map((e) => belt(keptOf(e))));
  return [...names].map((name) => (
    <TensionPlot key={name} name={name} entries={read.filter((e) => belt(keptOf(e)) === name)} />
  ));
}

function TensionPlot({ name, entries }: { name: string; entries: LogEntry[] }) {
  const { show } = useNumbers();
  const scale = useScale();
  const read = [...entries].reverse();
  if (read.length < 2) return null;
  const days = read.map((e) => (Date.parse(e.on_date) - Date.parse(read[0]!.on_date)) / 86_400_000);
  const pick = (name: string) =>
    scale(
      read.map((e) => (e.reading as Record<string, number | null>)[name] ?? null),
      "N",
    );
  return (
    <Sheet title="Tension over time" note={name || undefined}>
      <LinePlot
        label="Tension readings over time against their band"
        x={days}
        xAxis={{ name: `Days since ${read[0]!.on_date}`, unit: "" }}
        yAxis={{ name: "Tension", unit: show(1, "N").unit }}
        height={190}
        lines={[
          { label: "read", y: pick("tension_n"), points: true },
          { label: "not below", y: pick("low_n"), dash: [2, 3] },
          { label: "not above", y: pick("high_n"), dash: [10, 4] },
        ]}
      />
    </Sheet>
  );
}

function Revisions() {
  const { session } = useBench();
  const { id, version } = useView();
  const back = useChange((number: number) => session.restore(number));
  return (
    <Sheet title="Revisions" note="each can be returned to">
      <RevisionTable of={`axes/${id}/revisions`} version={version} says="Return to" back={back} />
    </Sheet>
  );
}
