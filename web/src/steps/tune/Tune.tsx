/** Tension against its band, by sound or by pushing; wheels; calibration. */
import { useState, type ReactNode } from "react";
import { useQuery } from "@tanstack/react-query";
import { ask, type Calibration, type Design, type Reading, type Tension } from "../../api/client";
import { addLog, keyOf, useForm } from "../../api/queries";
import { useBench, useNumbers, useSystem, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Either, Pick } from "../../kit/inputs";
import { Failed, Notice } from "../../kit/Notice";
import { Cols, Fields, Fig, Figs, Line, Sheet } from "../../kit/sheets";
import { number, plain, shownUnit } from "../../units/format";
import { Cautions } from "../Cautions";
import { TablesOf } from "../TablesOf";
import { today } from "../log/today";
import { Ripple } from "./Ripple";
import { Listen, type Told } from "./Listen";
import css from "./tune.module.css";

/** Places in the chain where closed belts stand. */
const closedIn = (design: Design) => design.chain.flatMap((s, j) => (s.kind === "closed_belt" ? [j] : []));

/** What an axis has not, its screen has not. */
export default function Tune() {
  const { report, find } = useNumbers();
  const { design } = useView();
  const open = "belt" in design.end;
  const closed = closedIn(design);
  const turned = design.end.kind === "spindle";
  return (
    <>
      {open && <Target />}
      {closed.map((j, nth) => (
        <ClosedTarget key={j} stage={j} nth={closed.length > 1 ? nth + 1 : 0} />
      ))}
      {turned && <VBelts />}
      {!open && closed.length === 0 && !turned && (
        <Sheet title="Tension">
          <p className="quiet">This axis has no belt to tension.</p>
        </Sheet>
      )}
      <Measure />
      <Cols>
        {report?.guided && <Wheels />}
        {(find("steps_per_mm")?.value ?? null) !== null && <Calibrate />}
      </Cols>
      {!turned && <Ripple />}
      <Cautions step="tune" />
    </>
  );
}

/** A closed belt's own target and band: the span between its two shafts, plucked or pushed. */
function ClosedTarget({ stage, nth }: { stage: number; nth: number }) {
  const { find } = useNumbers();
  const at = `chain.${stage}`;
  if ((find(`${at}.tension`)?.value ?? null) === null) return null;
  return (
    <Sheet
      title={`Target of the closed belt${nth ? ` ${nth}` : ""}`}
      note="its free span between the two shafts, supply off and locked out"
      data-closed-target={stage}
    >
      <Figs>
        <Figure of={`${at}.tension`} label="Tension to set" />
        <Figure of={`${at}.tension_low`} label="Not below" />
        <Figure of={`${at}.tension_high`} label="Not above" />
        <Figure of={`${at}.span`} label="Free span to pluck" />
        <Figure of={`${at}.pluck`} label="It sounds at" />
      </Figs>
      <p className="small quiet">
        Pluck it at its middle and read the late part of its tone, at several places of the shafts: the mean
        counts. How to move the shaft, and by how much, stands in Belt.
      </p>
    </Sheet>
  );
}

/** The two V-belts of a spindle: each speed asks for its own. */
function VBelts() {
  return (
    <>
      <TablesOf step="tune" />
      <p className="small quiet">
        A straight span that sounds below some 60 Hz is heard badly: push its middle aside with a scale, each
        time as far, and compare. Run the belts for some minutes and look again.
      </p>
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
  const mm = (v: number, digits = 4) => show(v, "mm", digits).said;
  const force = (v: number | null) => show(v, "N").text;
  const newtons = show(1, "N").unit;
  const room = report?.ladder.find((r) => r.key === "band");
  const empty = room !== undefined && room.verdict === "short";
  return (
    <Sheet title="Target" note="tension first, calibrate after">
      <Figs>
        <Figure of="tension.set" />
        <Figure of="tension.low" label="Not below" />
        <Figure of="tension.high" label="Not above" />
        <Figure of="tension.advice" label="Shaft's bearing, advice" />
        <Figure of="pluck.target" label="It sounds at" />
      </Figs>
      {empty && (
        <Notice title="No tension is right here">
          The belt needs more than what holds it bears. {room.says}
        </Notice>
      )}
      <ol className={css.steps}>
        <li>
          Supply off and locked out. Put the carriage <b className="num">{mm(p.carriage_mm)}</b> from the
          motor end of its travel.
        </li>
        <li>
          The run to measure is {p.run}: <b className="num">{mm(p.span_mm)}</b> long.
        </li>
        <li>
          By sound: pluck it at its middle, across the pull of gravity, by{" "}
          <b className="num">{mm(p.swing_mm, 2)}</b> at most, and read the late part of its tone;{" "}
          {p.frequency_low_hz && p.frequency_high_hz && (
            <>
              <b className="num">
                {number(p.frequency_low_hz)} to {number(p.frequency_high_hz)} Hz
              </b>
              ,{" "}
            </>
          )}
          aim for <b className="num">{number(p.frequency_hz)} Hz</b>.
        </li>
        <li>
          Or push its middle <b className="num">{mm(p.push_mm, 2)}</b> aside, carriage and motor left free to
          move: that takes{" "}
          {p.push_low_n && p.push_high_n && (
            <>
              <b className="num">
                {force(p.push_low_n)} to {force(p.push_high_n)} {newtons}
              </b>
              ,{" "}
            </>
          )}
          aim for{" "}
          <b className="num">
            {force(p.push_n)} {newtons}
          </b>
          . A thumb can be calibrated on kitchen scales.
        </li>
        <li>
          Or with a luggage scale, bolts loose: at the idler, where it just leaves its stop, aim for{" "}
          <b className="num">
            {force(p.scale_n)} {newtons}
          </b>
          ; at a belt end it reads the tension itself.
        </li>
        <li>
          Run-in and creep take a tenth to a fifth of it (from memory): look again after the first week, or
          some twenty hours of running.
        </li>
      </ol>
    </Sheet>
  );
}

/** Every toothed belt of the axis that is tensioned, by the place of its part. */
function useBelts() {
  const { report, find } = useNumbers();
  const { design } = useView();
  const closed = closedIn(design);
  return [
    ...("belt" in design.end
      ? [{ of: "end", name: "the open belt", span: report?.pluck?.span_mm ?? null }]
      : []),
    ...closed.map((j, nth) => ({
      of: `chain.${j}`,
      name: `the closed belt${closed.length > 1 ? ` ${nth + 1}` : ""}`,
      span: find(`chain.${j}.span`)?.value ?? null,
    })),
  ];
}

/** One belt is read at a time: its run, its band and its readings are its own. */
function Measure() {
  const belts = useBelts();
  const [chosen, setChosen] = useState("");
  const belt = belts.find((b) => b.of === chosen) ?? belts[0];
  if (!belt) return null;
  return (
    <MeasureOne key={`${belt.of} ${belt.span}`} belt={belt}>
      {belts.length > 1 && (
        <Pick
          label="Which belt"
          value={belt.of}
          options={belts.map((b) => ({ value: b.of, label: b.name }))}
          onValue={setChosen}
        />
      )}
    </MeasureOne>
  );
}

function MeasureOne({ belt, children }: { belt: ReturnType<typeof useBelts>[number]; children: ReactNode }) {
  const { of } = belt;
  const open = of === "end";
  const { design, id } = useView();
  const { session, start } = useBench();
  const [system] = useSystem();
  const [how, setHow] = useState<Reading["how"]>("pluck");
  const [held, setHeld] = useState<"free" | "both ends">("free");
  const [at, setAt] = useState<"idler" | "clamp">("idler");
  const [span, setSpan] = useState<number | null>(belt.span);
  const [hertz, setHertz] = useState<number | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [aside, setAside] = useState<number | null>(null);
  const [force, setForce] = useState<number | null>(null);
  // What was typed over says nothing of the partials.
  const stiffness = told?.hz === hertz ? (told?.stiffness ?? null) : null;
  const readings: Record<Reading["how"], Reading | null> = {
    pluck: span && hertz ? { how: "pluck", of, span_mm: span, frequency_hz: hertz, stiffness } : null,
    push:
      span && aside && force
        ? { how: "push", of, span_mm: span, deflection_mm: aside, force_n: force, held }
        : null,
    scale: force ? { how: "scale", of, force_n: force, at } : null,
  };
  const reading = readings[how];
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
  const perUnit = units.length?.factors[shownUnit("length", units, system, "mm")] ?? 1;
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
            ...(open ? [{ value: "scale" as const, label: "by a scale" }] : []),
          ]}
          onValue={setHow}
        />
      }
    >
      <Listen
        of={of}
        span={span}
        onPitch={(heard) => (setHertz(heard.hz), setTold(heard))}
        shown={how === "pluck"}
      >
        <Cols tight>
          <Fields>
            {children}
            {how !== "scale" && (
              <FreeNumber
                label="Length of the run"
                dimension="length"
                name="span"
                units={units}
                start={belt.span ? plain(Number((belt.span / perUnit).toPrecision(5))) : ""}
                onValue={setSpan}
              />
            )}
            {how === "pluck" && (
              <FreeNumber
                key={`hz ${told?.hz}`}
                label="Pitch heard"
                dimension="frequency"
                name="hertz"
                units={units}
                start={told === null ? "" : plain(Number(told.hz.toPrecision(5)))}
                onValue={setHertz}
              />
            )}
            {how === "push" && (
              <FreeNumber
                key="aside"
                label="Pushed aside by"
                dimension="length"
                name="aside"
                units={units}
                onValue={setAside}
              />
            )}
            {how !== "pluck" && (
              <FreeNumber
                key={`force ${how}`}
                label={how === "push" ? "Force it took" : "The scale reads"}
                dimension="force"
                name="force"
                units={units}
                onValue={setForce}
              />
            )}
            {how === "push" && (
              <Pick
                label="Ends of the run"
                value={held}
                options={[
                  { value: "free", label: open ? "carriage or motor free" : "one shaft free" },
                  { value: "both ends", label: "both held fast" },
                ]}
                onValue={(v) => setHeld(v as typeof held)}
              />
            )}
            {how === "scale" && (
              <Pick
                label="Hooked to"
                value={at}
                options={[
                  { value: "idler", label: "the idler" },
                  { value: "clamp", label: "a belt end" },
                ]}
                onValue={(v) => setAt(v as typeof at)}
              />
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
      </Listen>
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
        {logged !== "" && logged === key && (
          <span role="status">Written down for {today()}; the log says when to look again.</span>
        )}
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
        {answer.advice_n && (
          <line
            x1={x(answer.advice_n)}
            x2={x(answer.advice_n)}
            y1="8"
            y2="21"
            stroke="var(--ink)"
            strokeDasharray="2 2"
          />
        )}
        {answer.target_n && (
          <line x1={x(answer.target_n)} x2={x(answer.target_n)} y1="8" y2="21" stroke="var(--ink)" />
        )}
        <path d={`M${x(answer.tension_n)} 10l-5 -8h10z`} fill={good ? "var(--ink)" : "var(--signal)"} />
      </svg>
      <p className={good ? "small" : "small signal"}>
        <b>{answer.verdict}.</b> {answer.says}
      </p>
      {answer.to_target && <p className="small">{answer.to_target}</p>}
      {answer.advice_n && (
        <p className="small quiet">
          Dashed: the bearing of the pulley's shaft is at its limit, {show(answer.advice_n, "N").said}.
        </p>
      )}
      {answer.spread ? (
        <p className="small quiet">
          How its ends are held is not known to better than {number(answer.spread * 100, 2)} % of this
          tension.
        </p>
      ) : null}
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
          Hold the carriage and turn one wheel with a finger. It spins free: loose. It turns with a slight
          drag: right. It can only drag the carriage along: tight.
        </li>
        <li>
          Some set it at the slight drag; others go on to where turning a wheel just begins to move the
          carriage. Take one of the two for all wheels, never both.
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
