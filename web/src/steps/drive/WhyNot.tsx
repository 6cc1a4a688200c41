/** Why not: any combination, listed or not, on the whole ladder: which target it fails and by how much. */
import { useEffect, useState } from "react";
import { useMutation } from "@tanstack/react-query";
import { ask, type SearchOptions, type Why } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { VerdictMark } from "../../frame/verdict";
import { number } from "../../units/format";
import { Refused } from "./Refused";
import { useTake } from "./scope";

export default function WhyNot() {
  const { session } = useBench();
  const take = useTake();
  const show = useShow();
  const own = usePick((v) => v.design.chain[0] as { label?: string });
  const [options, setOptions] = useState<SearchOptions | null>(null);
  const [refusal, setRefusal] = useState<Error | null>(null);
  const [chosen, setChosen] = useState({
    motor: "",
    first: "direct",
    second: "direct",
    belt: "",
    microsteps: 16,
  });
  useEffect(() => {
    const stop = new AbortController();
    ask<SearchOptions>("/search/options", {
      body: { design: session.get().design },
      signal: stop.signal,
    }).then((found) => {
      setOptions(found);
      setChosen((c) => ({
        ...c,
        motor: found.motors.find((m) => own.label && m.startsWith(`${own.label},`)) ?? found.motors[0] ?? "",
        belt: found.belts[0] ?? "",
      }));
    }, setRefusal);
    return () => stop.abort();
  }, [session, own.label]);
  const why = useMutation({
    mutationFn: () =>
      ask<Why>("/search/why", {
        body: {
          design: session.get().design,
          motor: chosen.motor,
          stages: [chosen.first, chosen.second].filter((s) => s !== "direct"),
          belt: chosen.belt,
          microsteps: chosen.microsteps,
        },
      }),
  });
  if (!options)
    return (
      <>
        <Refused error={refusal} />
        {!refusal && <p role="status">Looking at the list…</p>}
      </>
    );
  const pick = (key: "motor" | "first" | "second" | "belt", name: string, from: readonly string[]) => (
    <div className="field text">
      <label className="name" htmlFor={`why-${key}`}>
        {name}
      </label>
      <div className="box">
        <select
          id={`why-${key}`}
          value={chosen[key]}
          onChange={(e) => setChosen((c) => ({ ...c, [key]: e.target.value }))}
        >
          {from.map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
      </div>
    </div>
  );
  const failing =
    why.data?.ladder.filter((r) => !r.advisory && r.verdict !== "holds" && r.verdict !== "no demand") ?? [];
  return (
    <div data-why>
      <div className="cols" style={{ gap: "4px 22px" }}>
        <div>
          {pick("motor", "Motor, supply and current", options.motors)}
          {pick("belt", "Belt and pulley", options.belts)}
        </div>
        <div>
          {pick("first", "Stage next to the motor", options.stages)}
          {chosen.first !== "direct" && pick("second", "Stage after it", options.stages)}
          <div className="field text">
            <label className="name" htmlFor="why-steps">
              Microsteps
            </label>
            <div className="box">
              <select
                id="why-steps"
                value={chosen.microsteps}
                onChange={(e) => setChosen((c) => ({ ...c, microsteps: Number(e.target.value) }))}
              >
                {options.steps.map((n) => (
                  <option key={n} value={n}>
                    1/{n}
                  </option>
                ))}
              </select>
            </div>
          </div>
        </div>
      </div>
      <p style={{ display: "flex", gap: 8, margin: "8px 0" }}>
        <button className="act tight main" onClick={() => why.mutate()} disabled={why.isPending}>
          Why not this one?
        </button>
      </p>
      <Refused error={why.error} />
      {why.data && (
        <div data-why-answer>
          <p>
            <b>{why.data.name}</b>{" "}
            {why.data.verdict === null ? (
              <span className="signal">cannot be built.</span>
            ) : (
              <VerdictMark verdict={why.data.verdict} />
            )}
          </p>
          {why.data.problems.map((p) => (
            <p key={p.field + p.message} className="signal">
              {p.field} {p.message}: {p.value} {p.unit}, limit {p.limit} {p.unit}. {p.remedy}
            </p>
          ))}
          {why.data.verdict !== null && failing.length === 0 && (
            <p>
              Every target holds. It is not on the list because another is no worse in anything and better in
              something, or it was not among what was tried.
            </p>
          )}
          {failing.length > 0 && (
            <table className="wide rows">
              <thead>
                <tr>
                  <th>It fails at</th>
                  <th className="r">Asked</th>
                  <th className="r">There</th>
                  <th className="r">Ratio</th>
                  <th className="r">Needed</th>
                  <th>What helps</th>
                </tr>
              </thead>
              <tbody>
                {failing.map((r) => {
                  const [want, have] = [show(r.demand, r.unit), show(r.capacity, r.unit)];
                  return (
                    <tr key={r.key} data-fails={r.key}>
                      <td>
                        {r.label} <VerdictMark verdict={r.verdict} />
                      </td>
                      <td className="r num">
                        {want.text} {want.unit}
                      </td>
                      <td className="r num">
                        {have.text} {have.unit}
                      </td>
                      <td className="r num">{r.ratio === null ? "–" : `${number(r.ratio, 3)} ×`}</td>
                      <td className="r num">{number(r.margin, 3)} ×</td>
                      <td className="small">
                        {r.verdict === "unknown" ? `lacks ${r.missing.join(", ")}` : r.says}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          )}
          <p style={{ marginTop: 6 }}>
            <button className="act tight" onClick={() => take(why.data.changes)}>
              Take it all the same
            </button>
          </p>
        </div>
      )}
    </div>
  );
}
