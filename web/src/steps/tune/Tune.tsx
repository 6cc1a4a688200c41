/** Tension against its band, by sound or by pushing; wheels; calibration. */
import { useEffect, useState } from "react";
import { ask, Refusal, type Calibration, type Reading, type Tension } from "../../api/client";
import { addLog, useChange } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { FreeNumber } from "../../fields/FreeNumber";
import { Figure } from "../../frame/Figure";
import { number, plain } from "../../units/format";
import { Cautions } from "../Cautions";
import { today } from "../log/today";

export default function Tune() {
  return (
    <>
      <Target />
      <Measure />
      <div className="cols">
        <Wheels />
        <Calibrate />
      </div>
      <Cautions step="tune" />
    </>
  );
}

function Target() {
  const { report, show } = useNumbers();
  const p = report?.pluck;
  if (!p)
    return (
      <section className="sheet">
        <h2>Tension</h2>
        <p className="quiet">There is no target yet; see what the ladder lacks.</p>
      </section>
    );
  const mm = (v: number) => `${show(v, "mm", 4).text} ${show(v, "mm").unit}`;
  const force = (v: number | null) => `${show(v, "N").text}`;
  return (
    <section className="sheet">
      <h2>
        Target <span className="quiet">tension first, calibrate after</span>
      </h2>
      <div className="figs">
        <Figure of="tension.set" />
        <Figure of="tension.low" label="Not below" />
        <Figure of="tension.high" label="Not above" />
        <Figure of="pluck.target" label="It sounds at" />
      </div>
      <ol style={{ margin: "10px 0 0 20px" }} className="small">
        <li>
          Supply off and locked out. Put the carriage <b className="num">{mm(p.carriage_mm)}</b> from the
          motor end of its travel.
        </li>
        <li>
          The run to measure is {p.run}: <b className="num">{mm(p.span_mm)}</b> long.
        </li>
        <li>
          By sound: pluck it at its middle;{" "}
          <b className="num">
            {number(p.frequency_low_hz)} to {number(p.frequency_high_hz)} Hz
          </b>
          , aim for <b className="num">{number(p.frequency_hz)} Hz</b>.
        </li>
        <li>
          Or push its middle <b className="num">{mm(p.push_mm)}</b> aside: that takes{" "}
          <b className="num">
            {force(p.push_low_n)} to {force(p.push_high_n)} {show(1, "N").unit}
          </b>
          , aim for{" "}
          <b className="num">
            {force(p.push_n)} {show(1, "N").unit}
          </b>
          . A thumb can be calibrated on kitchen scales.
        </li>
      </ol>
    </section>
  );
}

function Measure() {
  const { report } = useNumbers();
  const { design, id } = useView();
  const { session } = useBench();
  const [how, setHow] = useState<"pluck" | "push">("pluck");
  const [span, setSpan] = useState<number | null>(report?.pluck?.span_mm ?? null);
  const [hertz, setHertz] = useState<number | null>(null);
  const [aside, setAside] = useState<number | null>(null);
  const [force, setForce] = useState<number | null>(null);
  const [answer, setAnswer] = useState<Tension | null>(null);
  const [refused, setRefused] = useState("");
  const [logged, setLogged] = useState(false);
  const reading: Reading | null =
    how === "pluck"
      ? span && hertz
        ? { how, span_mm: span, frequency_hz: hertz }
        : null
      : span && aside && force
        ? { how, span_mm: span, deflection_mm: aside, force_n: force }
        : null;
  const key = JSON.stringify(reading);
  useEffect(() => {
    setLogged(false);
    setAnswer(null);
    setRefused("");
    if (!reading) return;
    const stop = new AbortController();
    ask<Tension>("/tension", { body: { design, reading }, signal: stop.signal }).then(setAnswer, (e) =>
      setRefused(
        e instanceof Refusal
          ? e.problems[0]
            ? `${e.problems[0].field.split(".").at(-1)} ${e.problems[0].message}. ${e.problems[0].remedy}`
            : e.message
          : "",
      ),
    );
    return () => stop.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, design]);
  const write = useChange(addLog(id), "log", "shelf");
  const save = async () => {
    await session.saveNow();
    write.mutate(
      { on_date: today(), kind: "tension", says: "", cost: null, reading },
      { onSuccess: () => setLogged(true) },
    );
  };
  return (
    <section className="sheet">
      <h2>
        Measure it
        <span
          role="radiogroup"
          aria-label="How"
          style={{ marginLeft: 12, display: "flex", gap: 14, fontWeight: 400 }}
        >
          {(["pluck", "push"] as const).map((h) => (
            <label key={h} style={{ cursor: "pointer" }}>
              <input
                type="radio"
                name="how"
                checked={how === h}
                onChange={() => setHow(h)}
                style={{ accentColor: "var(--ink)" }}
              />{" "}
              {h === "pluck" ? "by sound" : "by pushing"}
            </label>
          ))}
        </span>
      </h2>
      <div
        style={{
          display: "grid",
          gridTemplateColumns: "repeat(3, 150px) minmax(0, 1fr)",
          gap: 14,
          alignItems: "start",
        }}
      >
        <FreeNumber
          label="Length of the run"
          dimension="length"
          name="span"
          start={report?.pluck ? plain(Math.round(report.pluck.span_mm * 10) / 10) : ""}
          onValue={setSpan}
        />
        {how === "pluck" ? (
          <FreeNumber key="hz" label="Pitch heard" dimension="frequency" name="hertz" onValue={setHertz} />
        ) : (
          <>
            <FreeNumber
              key="aside"
              label="Pushed aside by"
              dimension="length"
              name="aside"
              onValue={setAside}
            />
            <FreeNumber key="force" label="Force it took" dimension="force" name="force" onValue={setForce} />
          </>
        )}
        <div aria-live="polite" style={{ gridColumn: how === "pluck" ? "3 / 5" : undefined }}>
          {answer ? (
            <Answer answer={answer} />
          ) : refused ? (
            <p className="signal small">{refused}</p>
          ) : (
            <p className="quiet small">Enter what you measured; the tension follows.</p>
          )}
        </div>
      </div>
      <p style={{ marginTop: 10, display: "flex", gap: 12, alignItems: "center" }}>
        <button
          className="act main"
          disabled={!answer || write.isPending || logged}
          onClick={() => void save()}
        >
          Write it to the log
        </button>
        {logged && <span role="status">Written down for {today()}.</span>}
        {write.error && <span className="signal">{write.error.message}</span>}
      </p>
    </section>
  );
}

function Answer({ answer }: { answer: Tension }) {
  const { show } = useNumbers();
  const t = show(answer.tension_n, "N");
  const low = answer.low_n ?? 0;
  const high = answer.high_n ?? 1;
  const whole = Math.max(high * 1.4, answer.tension_n * 1.05);
  const x = (n: number) => Math.max(0, Math.min(1, n / whole)) * 300;
  const good = answer.verdict === "within the band";
  return (
    <div>
      <div className="fig">
        <div className="val" data-result="tension.read" data-value={answer.tension_n}>
          {t.text}
          <small>{t.unit}</small>
        </div>
      </div>
      <svg
        viewBox="-4 0 312 26"
        width="100%"
        style={{ maxWidth: 330 }}
        role="img"
        aria-label={`${t.text} ${t.unit}: ${answer.verdict}`}
      >
        <line x1="0" x2="300" y1="18" y2="18" stroke="var(--hair)" />
        <rect x={x(low)} y="11" width={x(high) - x(low)} height="7" fill="var(--metal)" stroke="var(--ink)" />
        {answer.target_n && (
          <line x1={x(answer.target_n)} x2={x(answer.target_n)} y1="8" y2="21" stroke="var(--ink)" />
        )}
        <path d={`M${x(answer.tension_n)} 10l-5 -8h10z`} fill={good ? "var(--ink)" : "var(--signal)"} />
      </svg>
      <p className={good ? "small" : "small signal"}>
        <b>{answer.verdict}.</b> {answer.says}
      </p>
      <p className="small quiet equation">{answer.formula}</p>
    </div>
  );
}

function Wheels() {
  const { design } = useView();
  if (design.guide.kind !== "wheels")
    return (
      <section className="sheet">
        <h2>Guide</h2>
        <p className="small">
          Run the carriage by hand over its whole length before the belt goes on. A tight spot is a rail bolt
          or a rail that is not straight; loosen, run, tighten behind the block.
        </p>
      </section>
    );
  return (
    <section className="sheet">
      <h2>Wheels</h2>
      <ol className="small" style={{ marginLeft: 18 }}>
        <li>Open the eccentrics; fixed wheels above, eccentrics below.</li>
        <li>Turn all eccentrics the same way until each wheel just touches.</li>
        <li>
          Hold the carriage, turn one wheel with a finger: it turns with a little resistance, moves the
          carriage, does not skate.
        </li>
        <li>Rock the carriage in every direction: no play.</li>
        <li>Lock the nuts without moving the eccentrics; feel again.</li>
      </ol>
    </section>
  );
}

function Calibrate() {
  const { find, show } = useNumbers();
  const now = find("steps_per_mm")?.value ?? null;
  const [commanded, setCommanded] = useState<number | null>(null);
  const [moves, setMoves] = useState<(number | null)[]>([null, null, null]);
  const [result, setResult] = useState<Calibration | null>(null);
  const measured = moves.filter((v): v is number => v !== null);
  const key = JSON.stringify([now, commanded, measured]);
  useEffect(() => {
    setResult(null);
    if (!now || !commanded || measured.length === 0) return;
    const stop = new AbortController();
    ask<Calibration>("/calibrate", {
      body: { steps_mm: now, commanded_mm: commanded, measured_mm: measured },
      signal: stop.signal,
    }).then(setResult, () => undefined);
    return () => stop.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return (
    <section className="sheet">
      <h2>
        Calibrate{" "}
        <span className="quiet">
          from the design: <span className="num">{number(now, 7)}</span> steps/mm
        </span>
      </h2>
      <div className="fields">
        <FreeNumber label="Commanded move" dimension="length" name="commanded" onValue={setCommanded} />
        {moves.map((_, i) => (
          <FreeNumber
            key={i}
            label={`Measured, ${i + 1}.`}
            dimension="length"
            name={`measured-${i}`}
            onValue={(v) => setMoves((m) => m.map((old, j) => (j === i ? v : old)))}
          />
        ))}
      </div>
      {result && (
        <div style={{ marginTop: 10 }} aria-live="polite">
          <div className="figs">
            <div className="fig">
              <div className="name">Set</div>
              <div className="val" data-result="calibrated" data-value={result.steps_mm}>
                {number(result.steps_mm, 7)}
                <small>steps/mm</small>
              </div>
            </div>
            <div className="fig">
              <div className="name">Spread</div>
              <div className="val">
                {show(result.spread_mm, "mm").text}
                <small>{show(result.spread_mm, "mm").unit}</small>
              </div>
            </div>
          </div>
          <p className="small">{result.says}</p>
        </div>
      )}
    </section>
  );
}
