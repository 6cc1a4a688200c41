/** Every belt of an axis that is tensioned: its target, and readings of it against its band. */
import { useState, type ReactNode } from "react";
import { type BeltToRead, type Reading, type Tension } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useSystem, useView } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { FreeNumber } from "../../fields/FreeNumber";
import { Fetched } from "../../kit/Fetched";
import { Either, Pick } from "../../kit/inputs";
import { Notice } from "../../kit/Notice";
import { Cols, Fields, Fig, Figs, Sheet, Table, Num } from "../../kit/sheets";
import { number, plain, shownUnit } from "../../units/format";
import { Listen, type Told } from "./Listen";
import { isOf, useLast } from "./measured";
import { WriteDown } from "./WriteDown";
import css from "./tune.module.css";

/** A closed belt's own target and band: the span between its two shafts, plucked or pushed. */
export function ClosedTarget({ stage, nth }: { stage: number; nth: number }) {
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

export function Target() {
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

/** One belt is read at a time: its run, its band and its readings are its own. */
export function Measure({ belts }: { belts: readonly BeltToRead[] }) {
  const [chosen, setChosen] = useState("");
  const belt = belts.find((b) => b.of === chosen) ?? belts[0];
  if (!belt) return null;
  return (
    <MeasureOne key={`${belt.of} ${belt.span_mm}`} belt={belt}>
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

const WAYS = { pluck: "by sound", push: "by pushing", thumb: "by thumb", scale: "by a scale" };
const PRESSES = 3;

function MeasureOne({ belt, children }: { belt: BeltToRead; children: ReactNode }) {
  const { of, span_mm: run } = belt;
  const open = belt.ways.includes("scale");
  const { design } = useView();
  const { start } = useBench();
  const [system] = useSystem();
  const [how, setHow] = useState<Reading["how"]>(belt.ways[0] ?? "pluck");
  const [held, setHeld] = useState<"free" | "both ends">("free");
  const [at, setAt] = useState<"idler" | "clamp">("idler");
  const [span, setSpan] = useState<number | null>(run);
  const [hertz, setHertz] = useState<number | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [aside, setAside] = useState<number | null>(null);
  const [force, setForce] = useState<number | null>(null);
  const [warmer, setWarmer] = useState<number | null>(null);
  const [presses, setPresses] = useState<(number | null)[]>(Array<number | null>(PRESSES).fill(null));
  // What was typed over says nothing of the partials.
  const stiffness = told?.hz === hertz ? (told?.stiffness ?? null) : null;
  const common = { of, warmer_k: warmer ?? 0 };
  const readings: Record<Reading["how"], Reading | null> = {
    pluck: span && hertz ? { ...common, how: "pluck", span_mm: span, frequency_hz: hertz, stiffness } : null,
    push:
      span && aside && force
        ? { ...common, how: "push", span_mm: span, deflection_mm: aside, force_n: force, held }
        : null,
    thumb:
      span && aside && presses.every((f) => f !== null)
        ? { ...common, how: "thumb", span_mm: span, deflection_mm: aside, presses_n: presses, held }
        : null,
    scale: force ? { ...common, how: "scale", force_n: force, at } : null,
  };
  const reading = readings[how];
  const answer = useAsked<Tension>("tension", design, { reading }, reading !== null);
  const units = start.units;
  const perUnit = units.length?.factors[shownUnit("length", units, system, "mm")] ?? 1;
  return (
    <Sheet
      title="Measure it"
      data-measure={of}
      aside={
        <Either
          label="How"
          value={how}
          options={belt.ways.map((value) => ({ value, label: WAYS[value] }))}
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
                start={run ? plain(Number((run / perUnit).toPrecision(5))) : ""}
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
            {(how === "push" || how === "thumb") && (
              <FreeNumber
                key="aside"
                label="Pushed aside by"
                dimension="length"
                name="aside"
                units={units}
                onValue={setAside}
              />
            )}
            {how === "thumb" &&
              presses.map((_, i) => (
                <FreeNumber
                  key={`press ${i}`}
                  label={`Press ${i + 1} on the scale`}
                  dimension="force"
                  name={`press-${i}`}
                  units={units}
                  onValue={(v) => setPresses((all) => all.map((old, j) => (j === i ? v : old)))}
                />
              ))}
            {(how === "push" || how === "scale") && (
              <FreeNumber
                key={`force ${how}`}
                label={how === "push" ? "Force it took" : "The scale reads"}
                dimension="force"
                name="force"
                units={units}
                onValue={setForce}
              />
            )}
            {(how === "push" || how === "thumb") && (
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
            {belt.per_k !== 0 && (
              <FreeNumber
                label="Warmer than usual by"
                dimension="number"
                unit="K"
                name="warmer"
                units={units}
                signed
                onValue={setWarmer}
              />
            )}
          </Fields>
          <div aria-live="polite">
            {reading === null ? (
              <p className="quiet small">
                {how === "thumb"
                  ? "Press the kitchen scale three times as you would press the belt (500 gf is said so), then push the belt aside as hard, and measure how far it goes."
                  : "Enter what you measured; the tension follows."}
              </p>
            ) : (
              <Fetched of={answer} what="the tension" waiting={null}>
                {(found) => <Answer answer={found} />}
              </Fetched>
            )}
          </div>
        </Cols>
      </Listen>
      <WriteDown reading={answer.data ? reading : null} />
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

/** Two belts that work side by side: what was read of each last, and their difference against what it may be. */
export function Pair({ belts }: { belts: readonly [BeltToRead, BeltToRead] }) {
  const { show } = useNumbers();
  const [one, other] = belts;
  const last = [useLast(isOf(one)), useLast(isOf(other))];
  const unit = show(1, "N").unit;
  const [a, b] = last.map((l) => l?.kept.tension_n ?? null);
  const apart = a !== null && a !== undefined && b !== null && b !== undefined ? Math.abs(a - b) : null;
  const may = one.apart_n;
  const much = apart !== null && may !== null && apart > may;
  return (
    <Sheet title="Both belts alike" note="read both the same way, at the same place" data-pair>
      <Table dense columns={["Belt", { name: `read last, ${unit}`, right: true }, "on"]}>
        {belts.map((belt, i) => (
          <tr key={belt.of}>
            <td>{belt.name}</td>
            <Num>{show(last[i]?.kept.tension_n, "N").text}</Num>
            <td className="num">{last[i]?.day ?? "not read yet"}</td>
          </tr>
        ))}
        <tr>
          <td>
            They differ by
            {may !== null && <span className="quiet small"> · may by {show(may, "N").said}</span>}
          </td>
          <Num data-result="tension.apart" data-value={apart ?? undefined} signal={much}>
            {apart === null ? "" : show(apart, "N").text}
          </Num>
          <td>{apart === null ? "" : much ? "too far apart" : "alike enough"}</td>
        </tr>
      </Table>
      <p className={much ? "small signal" : "small quiet"}>
        {one.why_apart} The usual care is a tenth of the tension (common practice, from memory).{" "}
        {much && `Tighten ${(a ?? 0) < (b ?? 0) ? one.name : other.name}, then read both again.`}
      </p>
    </Sheet>
  );
}
