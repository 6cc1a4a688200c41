/** Listening to a plucked run: the microphone or a sound file, what was heard in it, and the pitch that it tells. */
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { ask, type Heard } from "../../api/client";
import { useBench, useNumbers } from "../../design/context";
import { Act } from "../../kit/Act";
import { OpenFile } from "../../kit/inputs";
import { Failed } from "../../kit/Notice";
import { Line } from "../../kit/sheets";
import { LinePlot } from "../../plots/Lazy";
import { number } from "../../units/format";
import { base64, Recorder } from "./recorder";
import css from "./tune.module.css";

const LOOK_MS = 10;
/** So much of a pluck tells its pitch: it is asked for as soon as it is there, and again as it rings on. */
const TELLS_S = 0.185;
const AGAIN_S = 0.25;
/** It stops by itself: nobody wants a microphone that stays open. */
const LONGEST_MS = 60_000;
const LEAST_S = 0.4;
const LARGEST = 20_000_000;

/** Pitch of the first partial, and how far the others are spread by the run's stiffness. */
export interface Told {
  hz: number;
  stiffness: number | null;
}

interface Props {
  of: string;
  span: number | null;
  onPitch: (told: Told) => void;
  /** It is how the belt is read just now. */
  shown: boolean;
  /** What follows from the pitch: it stands before the pictures. */
  children: ReactNode;
}

export function Listen({ of, span, onPitch, shown, children }: Props) {
  const { session } = useBench();
  const [open, setOpen] = useState<Recorder | null>(null);
  const [opening, setOpening] = useState(false);
  const [heard, setHeard] = useState<Heard | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const latest = useRef({ of, span, onPitch });
  latest.current = { of, span, onPitch };

  const read = useCallback(
    async (file: Blob, signal?: AbortSignal) => {
      const { of, span } = latest.current;
      const run = span ? { design: session.get().design, of, span_mm: span } : null;
      const found = await ask<Heard>("/listen", { body: { sound: await base64(file), run }, signal });
      setHeard(found);
      setError(null);
      if (found.pitch_hz !== null)
        latest.current.onPitch({ hz: found.pitch_hz, stiffness: found.stiffness ?? null });
    },
    [session],
  );

  useEffect(() => {
    if (!open) return;
    const ended = new AbortController();
    const until = performance.now() + LONGEST_MS;
    const go = async () => {
      let asked = 0;
      while (!ended.signal.aborted && performance.now() < until) {
        await new Promise((done) => setTimeout(done, LOOK_MS));
        if (open.heard < LEAST_S * open.rate) continue;
        const fresh = open.leapt > asked - TELLS_S * open.rate;
        const due = fresh ? open.leapt + TELLS_S * open.rate : asked + AGAIN_S * open.rate;
        if (open.heard < due) continue;
        asked = open.heard;
        await read(open.file(), ended.signal);
      }
      if (!ended.signal.aborted) setOpen(null);
    };
    go().catch((why: unknown) => {
      if (ended.signal.aborted) return;
      setError(why as Error);
      setOpen(null);
    });
    return () => {
      ended.abort();
      open.close();
    };
  }, [open, read]);

  useEffect(() => {
    if (!shown) setOpen(null);
  }, [shown]);

  const begin = async () => {
    setOpening(true);
    setError(null);
    try {
      setOpen(await Recorder.open());
      setHeard(null);
    } catch (why) {
      setError(why as Error);
    } finally {
      setOpening(false);
    }
  };
  const take = async (file: File) => {
    setOpen(null);
    if (file.size > LARGEST)
      return setError(
        new Error(`${file.name} is too large: at most 20 MB. Cut out the part with the plucks.`),
      );
    await read(file).catch((why: unknown) => setError(why as Error));
  };
  const seen = shown ? heard : null;
  return (
    <div className={css.listen} data-listen>
      {shown && (
        <Line>
          {open ? (
            <Act big onClick={() => setOpen(null)}>
              Stop listening
            </Act>
          ) : (
            <Act big busy={opening} onClick={() => void begin()}>
              Listen
            </Act>
          )}
          <OpenFile
            big
            label="Sound file"
            accept=".wav,.flac,audio/wav,audio/flac"
            onFile={(file) => void take(file)}
          >
            Open a sound file
          </OpenFile>
          <span className="quiet small">
            {open
              ? "Pluck the run, and let it die away; some three times."
              : "WAV or FLAC. What is heard stays on this machine."}
          </span>
        </Line>
      )}
      <Failed of={shown ? error : null} title="It was not heard" />
      {seen && <Says heard={seen} />}
      {children}
      {seen && <What heard={seen} />}
    </div>
  );
}

function Says({ heard }: { heard: Heard }) {
  const told = heard.pitch_hz !== null;
  return (
    <p aria-live="polite" className={told ? undefined : "signal"} data-heard={heard.verdict}>
      {told && (
        <b className="num" data-result="heard" data-value={heard.pitch_hz}>
          {number(heard.pitch_hz, 4)}
          {heard.spread_hz ? ` ± ${number(heard.spread_hz, 2)}` : ""} Hz{" "}
        </b>
      )}
      {heard.says}
    </p>
  );
}

/** The sound as it went, its plucks, and the partials of the clearest. */
function What({ heard }: { heard: Heard }) {
  const { show } = useNumbers();
  return (
    <>
      <WavePicture heard={heard} />
      {heard.spectrum && (
        <LinePlot
          label="Spectrum of the clearest pluck"
          x={heard.spectrum.hz}
          xAxis={{ name: "Frequency", unit: "Hz" }}
          yAxis={{ name: "Level", unit: "dB" }}
          lines={[{ label: "Level", y: heard.spectrum.db }]}
          height={170}
          marks={heard.pitch_hz === null ? [] : partials(heard)}
        />
      )}
      {heard.plucks.length > 0 && (
        <ul className="small">
          {heard.plucks.map((p) => (
            <li key={p.at_s} data-pluck>
              <span className="num">at {show(p.at_s, "s").said}: </span>
              {p.pitch_hz ? (
                <span className="num">
                  {number(p.pitch_hz, 4)} Hz, by{" "}
                  {p.partials.length === 1 ? "one partial" : `${p.partials.length} partials`}
                </span>
              ) : (
                p.why
              )}
            </li>
          ))}
        </ul>
      )}
      {heard.steady_hz.length > 0 && (
        <p className="small quiet num">
          Left out, for it sounds all the time:{" "}
          {heard.steady_hz.map((hz) => `${number(hz, 3)} Hz`).join(", ")}.
        </p>
      )}
    </>
  );
}

function partials(heard: Heard) {
  const most = heard.spectrum?.hz.at(-1) ?? 0;
  const clear = heard.plucks.reduce((a, b) => (b.partials.length > a.partials.length ? b : a));
  return clear.partials
    .map((n, i) => ({ x: clear.partials_hz[i] ?? 0, text: `${n}` }))
    .filter((m) => m.x < most)
    .slice(0, 8);
}

const WIDE = 600;
const HIGH = 60;

function WavePicture({ heard }: { heard: Heard }) {
  const { wave } = heard;
  const most = Math.max(...wave.high, ...wave.low.map((v) => -v), 1e-6);
  const step = WIDE / wave.low.length;
  const y = (v: number) => HIGH / 2 - (v / most) * (HIGH / 2 - 2);
  const d = wave.low.map((low, i) => `M${i * step} ${y(low)}V${y(wave.high[i] ?? 0) - 0.5}`).join("");
  const x = (s: number) => (s / wave.seconds) * WIDE;
  return (
    <figure className={css.wave}>
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Sound of ${number(wave.seconds, 3)} s with ${heard.plucks.length} plucks`}
      >
        {heard.plucks.map((p) => (
          <rect
            key={p.at_s}
            x={x(p.at_s)}
            y="0"
            width={x(p.lasts_s)}
            height={HIGH}
            fill={p.pitch_hz ? "var(--metal)" : "var(--faint)"}
          />
        ))}
        <path d={d} stroke="var(--ink)" strokeWidth="1" vectorEffect="non-scaling-stroke" />
      </svg>
      <figcaption className="small quiet num">
        <span>0 s</span>
        <span>time; shaded is what was read</span>
        <span>{number(wave.seconds, 2)} s</span>
      </figcaption>
    </figure>
  );
}
