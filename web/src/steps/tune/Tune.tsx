/** Tension against its band, by sound or by pushing; wheels; calibration. */
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { ask, type Calibration, type Reading, type Tension } from "../../api/client";
import { addLog, keyOf, useForm } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Either } from "../../kit/inputs";
import { Failed } from "../../kit/Notice";
import { Cols, Fields, Fig, Figs, Line, Sheet } from "../../kit/sheets";
import { number, plain } from "../../units/format";
import { Cautions } from "../Cautions";
import { today } from "../log/today";
import css from "./tune.module.css";

export default function Tune() {
  return (
    <>
      <Target />
      <Measure />
      <Cols>
        <Wheels />
        <Calibrate />
      </Cols>
      <Cautions step="tune" />
    </>
  );
}

function Target() {
  const { report, show } = useNumbers();
  const p = report?.pluck;
  if (!p)
    return (
      <Sheet title="Tension">
        <p className="quiet">There is no target yet; see what the ladder lacks.</p>
      </Sheet>
    );
  const mm = (v: number) => show(v, "mm", 4).said;
  const force = (v: number | null) => `${show(v, "N").text}`;
  return (
    <Sheet title="Target" note="tension first, calibrate after">
      <Figs>
        <Figure of="tension.set" />
        <Figure of="tension.low" label="Not below" />
        <Figure of="tension.high" label="Not above" />
        <Figure of="pluck.target" label="It sounds at" />
      </Figs>
      <ol className={css.steps}>
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
    </Sheet>
  );
}

function Measure() {
  const { report } = useNumbers();
  const { design, id } = useView();
  const { session, start } = useBench();
  const [how, setHow] = useState<"pluck" | "push">("pluck");
  const [span, setSpan] = useState<number | null>(report?.pluck?.span_mm ?? null);
  const [hertz, setHertz] = useState<number | null>(null);
  const [aside, setAside] = useState<number | null>(null);
  const [force, setForce] = useState<number | null>(null);
  const reading: Reading | null =
    how === "pluck"
      ? span && hertz
        ? { how, span_mm: span, frequency_hz: hertz }
        : null
      : span && aside && force
        ? { how, span_mm: span, deflection_mm: aside, force_n: force }
        : null;
  const answer = useQuery({
    queryKey: ["tension", keyOf(design), reading],
    queryFn: ({ signal }) => ask<Tension>("/tension", { body: { design, reading }, signal }),
    enabled: reading !== null,
    retry: false,
    staleTime: Infinity,
  });
  const key = JSON.stringify(reading);
  const [logged, setLogged] = useState("");
  const write = useForm(addLog(id), "log", "shelf");
  const save = async () => {
    await session.saveNow();
    write.mutate(
      { on_date: today(), kind: "tension", says: "", cost: null, reading },
      { onSuccess: () => setLogged(key) },
    );
  };
  const units = start.units;
  return (
    <Sheet
      title="Measure it"
      aside={
        <Either
          label="How"
          value={how}
          options={[
            { value: "pluck", label: "by sound" },
            { value: "push", label: "by pushing" },
          ]}
          onValue={setHow}
        />
      }
    >
      <Cols tight>
        <Fields>
          <FreeNumber
            label="Length of the run"
            dimension="length"
            name="span"
            units={units}
            start={report?.pluck ? plain(Math.round(report.pluck.span_mm * 10) / 10) : ""}
            onValue={setSpan}
          />
          {how === "pluck" ? (
            <FreeNumber
              key="hz"
              label="Pitch heard"
              dimension="frequency"
              name="hertz"
              units={units}
              onValue={setHertz}
            />
          ) : (
            <>
              <FreeNumber
                key="aside"
                label="Pushed aside by"
                dimension="length"
                name="aside"
                units={units}
                onValue={setAside}
              />
              <FreeNumber
                key="force"
                label="Force it took"
                dimension="force"
                name="force"
                units={units}
                onValue={setForce}
              />
            </>
          )}
        </Fields>
        <div aria-live="polite">
          {reading === null ? (
            <p className="quiet small">Enter what you measured; the tension follows.</p>
          ) : (
            <Fetched of={answer} what="the tension" waiting={null}>
              {(found) => <Answer answer={found} />}
            </Fetched>
          )}
        </div>
      </Cols>
      <Line foot>
        <Act
          big
          main
          disabled={!answer.data || reading === null || logged === key}
          busy={write.isPending}
          onClick={() => void save()}
        >
          Write it to the log
        </Act>
        {logged !== "" && logged === key && <span role="status">Written down for {today()}.</span>}
      </Line>
      <Failed of={write.error} title="It is not written down" />
    </Sheet>
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
      <Fig value={t.text} unit={t.unit} data-result="tension.read" data-value={answer.tension_n} />
      <svg viewBox="-4 0 312 26" className={css.band} role="img" aria-label={`${t.said}: ${answer.verdict}`}>
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
      <p className="small quiet num">{answer.formula}</p>
    </div>
  );
}

function Wheels() {
  const { design } = useView();
  if (design.guide.kind !== "wheels")
    return (
      <Sheet title="Guide">
        <p className="small">
          Run the carriage by hand over its whole length before the belt goes on. A tight spot is a rail bolt
          or a rail that is not straight; loosen, run, tighten behind the block.
        </p>
      </Sheet>
    );
  return (
    <Sheet title="Wheels">
      <ol className={css.steps}>
        <li>Open the eccentrics; fixed wheels above, eccentrics below.</li>
        <li>Turn all eccentrics the same way until each wheel just touches.</li>
        <li>
          Hold the carriage, turn one wheel with a finger: it turns with a little resistance, moves the
          carriage, does not skate.
        </li>
        <li>Rock the carriage in every direction: no play.</li>
        <li>Lock the nuts without moving the eccentrics; feel again.</li>
      </ol>
    </Sheet>
  );
}

function Calibrate() {
  const { find } = useNumbers();
  const { start } = useBench();
  const now = find("steps_per_mm")?.value ?? null;
  const [commanded, setCommanded] = useState<number | null>(null);
  const [moves, setMoves] = useState<(number | null)[]>([null, null, null]);
  const measured = moves.filter((v): v is number => v !== null);
  const asked = now !== null && commanded !== null && measured.length > 0;
  const body = { steps_mm: now, commanded_mm: commanded, measured_mm: measured };
  const result = useQuery({
    queryKey: ["calibrate", body],
    queryFn: ({ signal }) => ask<Calibration>("/calibrate", { body, signal }),
    enabled: asked,
    retry: false,
    staleTime: Infinity,
  });
  return (
    <Sheet title="Calibrate" note={`from the design: ${number(now, 7)} steps/mm`}>
      <Fields>
        <FreeNumber
          label="Commanded move"
          dimension="length"
          name="commanded"
          units={start.units}
          onValue={setCommanded}
        />
        {moves.map((_, i) => (
          <FreeNumber
            key={i}
            label={`Measured, ${i + 1}.`}
            dimension="length"
            name={`measured-${i}`}
            units={start.units}
            onValue={(v) => setMoves((m) => m.map((old, j) => (j === i ? v : old)))}
          />
        ))}
      </Fields>
      {asked && (
        <Fetched of={result} what="the calibration" waiting={null}>
          {(found) => <Calibrated found={found} />}
        </Fetched>
      )}
    </Sheet>
  );
}

function Calibrated({ found }: { found: Calibration }) {
  const { show } = useNumbers();
  const spread = show(found.spread_mm, "mm");
  return (
    <Line foot aria-live="polite">
      <Figs>
        <Fig
          name="Set"
          value={number(found.steps_mm, 7)}
          unit="steps/mm"
          data-result="calibrated"
          data-value={found.steps_mm}
        />
        <Fig name="Spread" value={spread.text} unit={spread.unit} />
      </Figs>
      <p className="small">{found.says}</p>
    </Line>
  );
}
