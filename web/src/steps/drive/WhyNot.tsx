/** Why not: any combination, listed or not, on the whole ladder: which target it fails and by how much. */
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { ask, type SearchOptions, type Why } from "../../api/client";
import { keyOf, useForm } from "../../api/queries";
import { useBench, usePick, useShow } from "../../design/context";
import { VerdictMark } from "../../frame/verdict";
import { Act } from "../../kit/Act";
import { Fetched, Waiting } from "../../kit/Fetched";
import { Pick } from "../../kit/inputs";
import { Failed } from "../../kit/Notice";
import { Cols, Line, Num, Table } from "../../kit/sheets";
import { number } from "../../units/format";
import { useTake } from "./scope";

export default function WhyNot() {
  const { session } = useBench();
  const [design] = useState(() => session.get().design);
  const options = useQuery({
    queryKey: ["options", keyOf(design)],
    queryFn: ({ signal }) => ask<SearchOptions>("/search/options", { body: { design }, signal }),
  });
  return (
    <Fetched of={options} what="the list of parts" waiting={<Waiting>Looking at the list…</Waiting>}>
      {(found) => <Asked options={found} />}
    </Fetched>
  );
}

function Asked({ options }: { options: SearchOptions }) {
  const { session } = useBench();
  const own = usePick((v) => v.design.chain[0] as { label?: string }).label;
  const [chosen, setChosen] = useState({
    motor: options.motors.find((m) => own && m.startsWith(`${own},`)) ?? options.motors[0] ?? "",
    first: "direct",
    second: "direct",
    belt: options.belts[0] ?? "",
    microsteps: 16,
  });
  const why = useForm(() =>
    ask<Why>("/search/why", {
      body: {
        design: session.get().design,
        motor: chosen.motor,
        stages: [chosen.first, chosen.second].filter((s) => s !== "direct"),
        belt: chosen.belt,
        microsteps: chosen.microsteps,
      },
    }),
  );
  const pick = (key: "motor" | "first" | "second" | "belt", label: string, from: readonly string[]) => (
    <Pick
      label={label}
      value={chosen[key]}
      options={from}
      onValue={(v) => setChosen((c) => ({ ...c, [key]: v }))}
    />
  );
  return (
    <div data-why>
      <Cols tight>
        <div>
          {pick("motor", "Motor, supply and current", options.motors)}
          {pick("belt", "Belt and pulley", options.belts)}
        </div>
        <div>
          {pick("first", "Stage next to the motor", options.stages)}
          {chosen.first !== "direct" && pick("second", "Stage after it", options.stages)}
          <Pick
            label="Microsteps"
            value={String(chosen.microsteps)}
            options={options.steps.map((n) => ({ value: String(n), label: `1/${n}` }))}
            onValue={(n) => setChosen((c) => ({ ...c, microsteps: Number(n) }))}
          />
        </div>
      </Cols>
      <Line foot>
        <Act main onClick={() => why.mutate(undefined)} busy={why.isPending}>
          Why not this one?
        </Act>
      </Line>
      <Failed of={why.error} title="It cannot be asked" />
      {why.data && <Answer why={why.data} />}
    </div>
  );
}

function Answer({ why }: { why: Why }) {
  const show = useShow();
  const take = useTake();
  const failing = why.ladder.filter((r) => !r.advisory && r.verdict !== "holds" && r.verdict !== "no demand");
  return (
    <div data-why-answer>
      <p>
        <b>{why.name}</b>{" "}
        {why.verdict === null ? (
          <span className="signal">cannot be built.</span>
        ) : (
          <VerdictMark verdict={why.verdict} />
        )}
      </p>
      {why.problems.map((p) => (
        <p key={p.field + p.message} className="signal">
          {p.field} {p.message}: {p.value} {p.unit}, limit {p.limit} {p.unit}. {p.remedy}
        </p>
      ))}
      {why.verdict !== null && failing.length === 0 && (
        <p>
          Every target holds. It is not on the list because another is no worse in anything and better in
          something, or it was not among what was tried.
        </p>
      )}
      {failing.length > 0 && (
        <Table
          columns={[
            "It fails at",
            { name: "Asked", right: true },
            { name: "There", right: true },
            { name: "Ratio", right: true },
            { name: "Needed", right: true },
            "What helps",
          ]}
          dense
        >
          {failing.map((r) => {
            const [want, have] = [show(r.demand, r.unit), show(r.capacity, r.unit)];
            return (
              <tr key={r.key} data-fails={r.key}>
                <td>
                  {r.label} <VerdictMark verdict={r.verdict} />
                </td>
                <Num>{want.said}</Num>
                <Num>{have.said}</Num>
                <Num>{r.ratio === null ? "–" : `${number(r.ratio, 3)} ×`}</Num>
                <Num>{number(r.margin, 3)} ×</Num>
                <td className="small">
                  {r.verdict === "unknown" ? `lacks ${r.missing.join(", ")}` : r.says}
                </td>
              </tr>
            );
          })}
        </Table>
      )}
      <Line foot>
        <Act onClick={() => take(why.changes)}>Take it all the same</Act>
      </Line>
    </div>
  );
}
