/** The headroom ladder: every target as one ruler, what is asked at the same place on each, least headroom on top. */
import { memo, useCallback, useState } from "react";
import { UnstyledButton } from "@mantine/core";
import type { Changes, Rung } from "../api/client";
import { useChanges, useReaches } from "../api/queries";
import { useBench, useNumbers, usePick, useShow, useView } from "../design/context";
import { useGo } from "../design/go";
import { number } from "../units/format";
import css from "./ladder.module.css";
import { Opened } from "./Figure";
import { Mends } from "./Mends";
import { Rigid } from "./Rigid";
import { VerdictMark } from "./verdict";
import { Act } from "../kit/Act";
import { Fetched, Waiting } from "../kit/Fetched";
import { Fold } from "../kit/sheets";

const ASKED = 38; // where the asked amount stands on every ruler, in per cent of its width
const END = 96;

/** Ruler place of a ratio: linear up to twice what is asked, then it leaves the ruler through a torn edge. */
const place = (ratio: number) => Math.min(ratio * ASKED, END);

function Ruler({ rung }: { rung: Rung }) {
  const ratio = rung.ratio ?? 0;
  const to = place(ratio);
  const off = ratio * ASKED > END;
  const short = rung.verdict === "short";
  const fill = short
    ? "var(--signal)"
    : rung.verdict === "tight"
      ? "url(#hatch)"
      : rung.verdict === "unknown"
        ? "none"
        : "var(--ink)";
  return (
    <svg
      width="100%"
      height="13"
      viewBox="0 0 100 13"
      preserveAspectRatio="none"
      aria-hidden="true"
      className={css.ruler}
    >
      <line x1="0" x2="100" y1="11.5" y2="11.5" stroke="var(--hair)" vectorEffect="non-scaling-stroke" />
      {[0.5, 1, 1.5, 2].map((r) => (
        <line
          key={r}
          x1={r * ASKED}
          x2={r * ASKED}
          y1={r === 1 ? 8 : 9.5}
          y2="11.5"
          stroke="var(--pencil)"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {rung.ratio !== null && (
        <rect
          x="0"
          y="3"
          width={Math.max(to, 0.6)}
          height="5.5"
          fill={fill}
          stroke={short ? "var(--signal)" : "var(--ink)"}
          vectorEffect="non-scaling-stroke"
        />
      )}
      {off && (
        <path
          d="M97 2l1.2 2.2l-1.2 2.2l1.2 2.6M98.8 2l1.2 2.2l-1.2 2.2l1.2 2.6"
          fill="none"
          stroke="var(--ink)"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {rung.verdict === "unknown" && (
        <rect
          x="0"
          y="3"
          width={ASKED}
          height="5.5"
          fill="none"
          stroke="var(--pencil)"
          strokeDasharray="3 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
      <line
        x1={ASKED}
        x2={ASKED}
        y1="0"
        y2="12"
        stroke="var(--ink)"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
      {rung.margin > 1 && (
        <line
          x1={rung.margin * ASKED}
          x2={rung.margin * ASKED}
          y1="1"
          y2="10"
          stroke="var(--ink)"
          strokeDasharray="2 2"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}

const Row = memo(
  function Row({
    rung,
    open,
    stale,
    toggle,
  }: {
    rung: Rung;
    open: boolean;
    stale: boolean;
    toggle: (key: string) => void;
  }) {
    const show = useShow();
    const want = show(rung.demand, rung.unit);
    const have = show(rung.capacity, rung.unit);
    const asked = rung.lower_is_better ? `${want.text} comes out` : `${want.text} asked`;
    const there = rung.lower_is_better ? `${have.said} allowed` : `${have.said} there`;
    return (
      <li
        className={css.rung}
        data-stale={stale}
        data-rung={rung.key}
        data-verdict={rung.verdict}
        data-ratio={rung.ratio ?? ""}
      >
        <UnstyledButton className={css.face} onClick={() => toggle(rung.key)} aria-expanded={open}>
          <div className={css.top}>
            <span>
              {rung.label}
              {rung.advisory && <span className="quiet"> · {rung.met ? "met by the target" : "advice"}</span>}
              {rung.case && <span className="quiet"> · {rung.case}</span>}
            </span>
            <span className={css.right}>
              {rung.ratio !== null && (
                <span className={css.ratio}>{number(rung.ratio, rung.ratio < 10 ? 3 : 2)}×</span>
              )}{" "}
              <VerdictMark verdict={rung.verdict} />
            </span>
          </div>
          {rung.verdict !== "no demand" && <Ruler rung={rung} />}
          {rung.verdict === "unknown" ? (
            <div className={css.sub}>
              <span>lacks {rung.missing.map(plainPath).join(", ")}</span>
            </div>
          ) : (
            rung.verdict !== "no demand" && (
              <div className={css.sub}>
                <span>{asked}</span>
                <span>{there}</span>
              </div>
            )
          )}
        </UnstyledButton>
        {open && <Open rung={rung} />}
      </li>
    );
  },
  (a, b) => a.open === b.open && a.stale === b.stale && a.toggle === b.toggle && sameRung(a.rung, b.rung),
);

/** A new report brings every rung anew; only those whose numbers changed are drawn again. */
function sameRung(a: Rung, b: Rung) {
  return (
    a === b ||
    (Object.keys(a) as (keyof Rung)[]).every((k) =>
      Array.isArray(a[k]) ? String(a[k]) === String(b[k]) : a[k] === b[k],
    )
  );
}

/** "chain.0.inductance_mh" in words. */
export function plainPath(path: string) {
  const name = path.split(".").at(-1) ?? path;
  return name.replace(/_(mm|mm_s2|mm_s|nm|n|mh|ohm|gcm2|g_m|a|v|hz|kg)$/, "").replaceAll("_", " ");
}

function Open({ rung }: { rung: Rung }) {
  const { find } = useNumbers();
  const { session } = useBench();
  const view = useView();
  const go = useGo();
  const weak = rung.verdict !== "no demand" && rung.verdict !== "unknown";
  const changes = useChanges(view.design, weak);
  const short = rung.verdict === "short" && !rung.advisory;
  const reaches = useReaches(view.design, short);
  const field = rung.verdict === "unknown" && rung.missing[0]?.includes(".") ? rung.missing[0] : rung.field;
  return (
    <div className={css.open}>
      <p>{rung.says}</p>
      <p>
        <Act onClick={() => go(field, rung.step)}>Go to {plainPath(field)}</Act>
      </p>
      {short && (
        <Fetched of={reaches} what="what mends it" waiting={null}>
          {(found) => (
            <Mends
              title="The nearest value that mends it"
              mends={found.mends.filter((m) => m.key === rung.key)}
            />
          )}
        </Fetched>
      )}
      {weak && (
        <>
          <h3>Single changes that help</h3>
          <Fetched of={changes} what="single changes" waiting={<Waiting>Trying each one…</Waiting>}>
            {(found) => {
              const ways = helping(found, rung.key);
              if (ways.length === 0)
                return <p className="quiet small">None of the usual steps improves this target.</p>;
              return (
                <ul className={css.ways}>
                  {ways.map((w) => (
                    <li key={w.first.says}>
                      <span>
                        {w.first.says}:{" "}
                        <b>
                          {w.first.before} → {w.first.after}
                        </b>
                        <br />
                        <span className="quiet small">{w.in_words}</span>
                      </span>
                      <Act onClick={() => session.setAll(w.changes)}>Take it</Act>
                    </li>
                  ))}
                </ul>
              );
            }}
          </Fetched>
        </>
      )}
      {rung.margin > 1 && (
        <p className="quiet small">
          Holds from {number(rung.margin)}× what is asked (dashed mark); the margin is under Assumptions in
          Aim.
        </p>
      )}
      {rung.opens.map((key) => {
        const q = find(key);
        return (
          q && (
            <div key={key}>
              <h3>{q.label}</h3>
              <Opened q={q} />
            </div>
          )
        );
      })}
    </div>
  );
}

const WAYS = 6;

/** The best change of each kind that gives one target more headroom, in the order in which they leave the whole axis. */
function helping(changes: Changes, key: string) {
  const seen = new Set<string>();
  return changes.singles
    .filter((c) => {
      const effect = c.effects.find((e) => e.key === key);
      const says = c.first.says;
      if (
        !effect ||
        effect.before === null ||
        effect.after === null ||
        effect.after <= effect.before ||
        seen.has(says)
      )
        return false;
      seen.add(says);
      return true;
    })
    .slice(0, WAYS);
}

export function Ladder() {
  const report = usePick((v) => v.report);
  const problems = usePick((v) => v.problems);
  const stale = usePick((v) => v.stale && v.problems.length > 0);
  const [open, setOpen] = useState("");
  const toggle = useCallback((key: string) => setOpen((was) => (was === key ? "" : key)), []);
  const asked = report?.ladder.filter((r) => r.verdict !== "no demand") ?? [];
  const idle = report?.ladder.filter((r) => r.verdict === "no demand") ?? [];
  return (
    <section aria-label="Headroom ladder">
      <svg width="0" height="0" aria-hidden="true" className={css.patterns}>
        <defs>
          <pattern
            id="hatch"
            width="3"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(35)"
          >
            <rect width="3" height="6" fill="var(--sheet)" />
            <rect width="1.3" height="6" fill="var(--ink)" />
          </pattern>
        </defs>
      </svg>
      <div className={css.head}>
        <div className={css.top}>
          <h2>Headroom</h2>
          {(report ?? problems.length > 0) && (
            <VerdictMark verdict={problems.length || !report ? "cannot be worked out" : report.verdict} />
          )}
        </div>
        <div className={css.say} role="status">
          {problems.length > 0 ? (
            <span className="signal">
              Not worked out: {plainPath(problems[0]!.field)} {problems[0]!.message}.
              {report ? " Below is the last design that could be." : ""}
            </span>
          ) : (
            report?.in_words
          )}
        </div>
        <Rigid />
      </div>
      <ol className={css.list}>
        {asked.map((r) => (
          <Row key={r.key} rung={r} open={open === r.key} stale={stale} toggle={toggle} />
        ))}
      </ol>
      {idle.length > 0 && (
        <div className={css.idle}>
          <Fold
            title={idle.length === 1 ? "1 target asks for nothing" : `${idle.length} targets ask for nothing`}
          >
            <ol className={css.list}>
              {idle.map((r) => (
                <Row key={r.key} rung={r} open={open === r.key} stale={false} toggle={toggle} />
              ))}
            </ol>
          </Fold>
        </div>
      )}
    </section>
  );
}
