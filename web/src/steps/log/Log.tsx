/** Dated entries, tension over time, and every revision to return to. */
import { useState, type FormEvent } from "react";
import { ask, Refusal, type LogBody, type LogEntry } from "../../api/client";
import { addLog, useChange, useLog } from "../../api/queries";
import { useBench, useNumbers, useScale, useView } from "../../design/context";
import { RevisionTable } from "../../frame/RevisionTable";
import { Notice } from "../../kit/Notice";
import { LinePlot } from "../../plots/Lazy";
import { money } from "../../units/format";
import { Cautions } from "../Cautions";
import { today } from "./today";

export default function Log() {
  const { id } = useView();
  const log = useLog(id);
  return (
    <>
      <NewEntry />
      <div style={{ display: "grid", gridTemplateColumns: "minmax(0, 1.7fr) minmax(0, 1fr)", gap: 12 }}>
        <section className="sheet">
          <h2>Entries</h2>
          {log.error && <p className="signal">{log.error.message}</p>}
          {log.data?.length === 0 && (
            <p className="quiet">
              Nothing yet. A tension reading from Tune, a repair, or what you would do differently belongs
              here.
            </p>
          )}
          {log.data?.map((e) => (
            <Entry key={e.id} entry={e} />
          ))}
        </section>
        <div>
          <TensionPlot entries={log.data ?? []} />
          <Revisions />
        </div>
      </div>
      <Cautions step="log" />
    </>
  );
}

function NewEntry() {
  const { id, design } = useView();
  const { session, start } = useBench();
  const [day, setDay] = useState(today());
  const [kind, setKind] = useState<LogBody["kind"]>("note");
  const [says, setSays] = useState("");
  const [cost, setCost] = useState("");
  const add = useChange(addLog(id), "log", "shelf");
  const price = cost.trim() ? Number(cost.replace(",", ".")) : null;
  const bad = price !== null && (!Number.isFinite(price) || price < 0);
  const write = async (e: FormEvent) => {
    e.preventDefault();
    await session.saveNow();
    add.mutate(
      { on_date: day, kind, says, cost: price, reading: null },
      { onSuccess: () => (setSays(""), setCost("")) },
    );
  };
  return (
    <form className="sheet" onSubmit={(e) => void write(e)}>
      <h2>Write down</h2>
      <div
        style={{
          display: "grid",
          gridTemplateColumns: "140px 130px minmax(0, 1fr) 110px auto",
          gap: 12,
          alignItems: "end",
        }}
      >
        <div className="field">
          <label className="name" htmlFor="log-day">
            Day
          </label>
          <div className="box">
            <input
              id="log-day"
              type="date"
              required
              value={day}
              onChange={(e) => setDay(e.target.value)}
              style={{ fontSize: 13.5 }}
            />
          </div>
        </div>
        <div className="field">
          <label className="name" htmlFor="log-kind">
            Kind
          </label>
          <div className="box">
            <select id="log-kind" value={kind} onChange={(e) => setKind(e.target.value as LogBody["kind"])}>
              {start.log_kinds.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </select>
          </div>
        </div>
        <div className="field text">
          <label className="name" htmlFor="log-says">
            What happened
          </label>
          <div className="box">
            <input id="log-says" value={says} maxLength={4000} onChange={(e) => setSays(e.target.value)} />
          </div>
        </div>
        <div className={`field ${bad ? "bad" : ""}`}>
          <label className="name" htmlFor="log-cost">
            Cost
          </label>
          <div className="box">
            <input id="log-cost" value={cost} onChange={(e) => setCost(e.target.value)} aria-invalid={bad} />
            <span className="unit">{design.aim.currency}</span>
          </div>
        </div>
        <button className="act main" disabled={bad || (!says.trim() && price === null) || add.isPending}>
          Write it down
        </button>
      </div>
      {add.error && (
        <p className="signal small" role="alert">
          {add.error instanceof Refusal
            ? (add.error.problems[0]?.message ?? add.error.message)
            : add.error.message}
        </p>
      )}
    </form>
  );
}

function Entry({ entry }: { entry: LogEntry }) {
  const { id, design } = useView();
  const { show } = useNumbers();
  const strike = useChange(() => ask(`/axes/${id}/log/${entry.id}`, { method: "DELETE" }), "log", "shelf");
  const r = entry.reading as {
    tension_n?: number;
    verdict?: string;
    frequency_hz?: number;
    span_mm?: number;
    force_n?: number;
    deflection_mm?: number;
  } | null;
  const mm = (v: number) => `${show(v, "mm", 4).text} ${show(v, "mm").unit}`;
  return (
    <article
      style={{
        display: "grid",
        gridTemplateColumns: "92px 84px minmax(0,1fr) auto",
        gap: 10,
        alignItems: "start",
        padding: "6px 0",
        borderBottom: "1px solid var(--faint)",
      }}
      data-entry={entry.kind}
    >
      <span className="num small">{entry.on_date}</span>
      <span className="small quiet">{entry.kind}</span>
      <span>
        {r?.tension_n !== undefined && (
          <span style={{ display: "block" }}>
            <b className="num">
              {show(r.tension_n, "N").text} {show(r.tension_n, "N").unit}
            </b>{" "}
            <span className={r.verdict === "within the band" ? "" : "signal"}>{r.verdict}</span>
            <span className="small quiet">
              {" "}
              ·{" "}
              {r.frequency_hz
                ? `${r.frequency_hz} Hz on ${mm(r.span_mm ?? 0).replace(" ", " ")}`
                : `${show(r.force_n, "N").text} ${show(1, "N").unit} for ${mm(r.deflection_mm ?? 0)} on ${mm(r.span_mm ?? 0)}`}
            </span>
          </span>
        )}
        {entry.says}
        {entry.cost ? (
          <span className="num small quiet"> {money(entry.cost, design.aim.currency)}</span>
        ) : null}
        <span className="small quiet" style={{ whiteSpace: "nowrap" }}>
          {" "}
          rev. {entry.revision}
        </span>
      </span>
      <button
        className="plain small quiet"
        onClick={() =>
          window.confirm("Strike this entry out? It can't be brought back.") && strike.mutate(undefined)
        }
      >
        Strike out
      </button>
    </article>
  );
}

function TensionPlot({ entries }: { entries: LogEntry[] }) {
  const { show } = useNumbers();
  const scale = useScale();
  const read = entries
    .filter((e) => typeof (e.reading as { tension_n?: unknown } | null)?.tension_n === "number")
    .reverse();
  if (read.length < 2) return null;
  const days = read.map((e) => (Date.parse(e.on_date) - Date.parse(read[0]!.on_date)) / 86_400_000);
  const pick = (name: string) =>
    scale(
      read.map((e) => (e.reading as Record<string, number | null>)[name] ?? null),
      "N",
    );
  return (
    <section className="sheet">
      <h2>Tension over time</h2>
      <LinePlot
        label="Tension readings over time against their band"
        x={days}
        xLabel={`Days since ${read[0]!.on_date}`}
        yLabel={`Tension, ${show(1, "N").unit}`}
        height={190}
        lines={[
          { label: "read", y: pick("tension_n"), points: true },
          { label: "not below", y: pick("low_n"), dash: [3, 4] },
          { label: "not above", y: pick("high_n"), dash: [8, 4] },
        ]}
      />
    </section>
  );
}

function Revisions() {
  const { session } = useBench();
  const { id, version } = useView();
  const back = useChange((number: number) => session.restore(number));
  return (
    <section className="sheet">
      <h2>
        Revisions <span className="quiet">each can be returned to</span>
      </h2>
      {back.error && <Notice title="That did not work">{back.error.message}</Notice>}
      <RevisionTable axis={id} version={version} says="Return to" back={back} tallest={260} />
    </section>
  );
}
