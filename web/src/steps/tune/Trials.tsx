/** The parts of an axis one by one: what each should read, how it is tried, and what a reading says. */
import { useState } from "react";
import { type Trial, type TrialAnswer } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { useGo } from "../../design/go";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Fields, Num, Sheet, Table } from "../../kit/sheets";
import { number } from "../../units/format";
import { isTried, useKeep, useLasts, type Kept } from "./measured";
import { WriteDown } from "./WriteDown";
import css from "./tune.module.css";

const READINGS = 3;
const WORDS = { right: "right", low: "too little", high: "too much", noted: "noted" };

/** What decided, the worst of several places; as it would be under the load that is asked for now. */
const worst = (k: Kept, t: Trial) => {
  const read = k.verdict === "high" ? k.most : k.verdict === "low" ? k.least : k.mean;
  return ((read ?? 0) * (t.load ?? 1)) / (k.load ?? t.load ?? 1);
};

export function Trials({ trials }: { trials: readonly Trial[] }) {
  const { show } = useNumbers();
  const last = useLasts(isTried);
  const [open, setOpen] = useState("");
  const unit = (t: Trial) => show(1, t.unit).unit;
  const figure = (v: number | null | undefined, t: Trial) =>
    (v ?? null) === null ? "" : show(v, t.unit).text;
  const right = (t: Trial) =>
    typeof t.low === "number" && typeof t.high === "number"
      ? `${figure(t.low, t)} to ${figure(t.high, t)}`
      : typeof t.high === "number"
        ? `up to ${figure(t.high, t)}`
        : typeof t.low === "number"
          ? `from ${figure(t.low, t)}`
          : "";
  if (trials.length === 0) return null;
  return (
    <Sheet title="Part by part" note="each against what the design says" data-trials>
      <Table
        dense
        columns={[
          { name: "What is tried" },
          { name: "the design says", right: true },
          { name: "right is", right: true },
          { name: "" },
          { name: "read last", right: true },
          { name: "on" },
        ]}
      >
        {trials.map((t) => {
          const read = last.get(t.key);
          return [
            <tr key={t.key} data-trial={t.key}>
              <td>
                <Act
                  plain
                  aria-expanded={open === t.key}
                  onClick={() => setOpen(open === t.key ? "" : t.key)}
                >
                  {t.name}
                </Act>
              </td>
              <Num>{figure(t.expected, t)}</Num>
              <Num>{right(t)}</Num>
              <td className="quiet small">{unit(t)}</td>
              <Num signal={read?.kept.verdict === "high" || read?.kept.verdict === "low"}>
                {read ? show(worst(read.kept, t), t.unit).text : ""}
              </Num>
              <td className="num small">{read?.day ?? ""}</td>
            </tr>,
            open === t.key && (
              <tr key={`${t.key} open`}>
                <td colSpan={6}>
                  <One trial={t} />
                </td>
              </tr>
            ),
          ];
        })}
      </Table>
    </Sheet>
  );
}

function One({ trial }: { trial: Trial }) {
  const { design } = useView();
  const { start } = useBench();
  const { show } = useNumbers();
  const go = useGo();
  const [read, setRead] = useState<(number | null)[]>(Array<number | null>(READINGS).fill(null));
  const values = read.filter((v): v is number => v !== null);
  const reading = { how: "trial" as const, of: trial.key, values };
  const answer = useAsked<TrialAnswer>("trial", design, { reading }, values.length > 0);
  const keep = useKeep();
  return (
    <div className={css.found} data-trying={trial.key}>
      <p className={`small ${css.asks}`}>{trial.how}</p>
      <Fields>
        {read.map((_, i) => (
          <FreeNumber
            key={i}
            label={`Read, ${i + 1}.`}
            dimension={trial.dimension}
            name={`read-${i}`}
            units={start.units}
            unit={trial.dimension === "count" ? trial.unit : undefined}
            orNone
            signed={(trial.low ?? 0) < 0}
            onValue={(v) => setRead((all) => all.map((old, j) => (j === i ? v : old)))}
          />
        ))}
      </Fields>
      {values.length > 0 && (
        <Fetched of={answer} what="what it says" waiting={null}>
          {(a) => (
            <div aria-live="polite">
              <p className={a.verdict === "low" || a.verdict === "high" ? "signal" : ""}>
                <b className="num" data-result="trial.mean" data-value={a.mean}>
                  {show(a.mean, a.unit).said}
                </b>
                {a.most > a.least && (
                  <span className="num">
                    {" "}
                    in the mean, {show(a.least, a.unit).text} to {show(a.most, a.unit).said}
                  </span>
                )}
                {a.within !== null && (
                  <span className="num quiet"> (mean ± {show(a.within, a.unit, 2).text})</span>
                )}{" "}
                · <b data-trial-verdict={a.verdict}>{WORDS[a.verdict]}.</b> {a.says}
              </p>
              <WriteDown reading={reading} small>
                {a.keeps && (
                  <Act onClick={() => a.keeps && keep(a.keeps.path, a.keeps.value)}>
                    Keep it as measured ({number(a.keeps.value, 4)})
                  </Act>
                )}
                <Act plain onClick={() => go(trial.path, "drive")}>
                  Go to its field
                </Act>
              </WriteDown>
            </div>
          )}
        </Fetched>
      )}
    </div>
  );
}
