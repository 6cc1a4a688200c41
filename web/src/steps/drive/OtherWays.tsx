/** Other ways: the same aim by belt, screw and rack side by side, with the cheapest parts found for each. */
import { useState } from "react";
import type { WaysAnswer } from "../../api/client";
import { useWays } from "../../api/queries";
import { useBench, usePick, useShow, useView } from "../../design/context";
import { afterMark, VerdictMark } from "../../frame/verdict";
import { about, number } from "../../units/format";
import { Act } from "../../kit/Act";
import { Fetched, Waiting } from "../../kit/Fetched";
import { Table } from "../../kit/sheets";
import css from "./choose.module.css";

type Way = WaysAnswer["ways"][number];

export default function OtherWays() {
  const view = useView();
  const [done, setDone] = useState(0);
  const found = useWays(view.design, setDone);
  return (
    <Fetched of={found} what="the other ways" waiting={<Waiting done={done}>Working out every way…</Waiting>}>
      {(answer) => <Compared answer={answer} />}
    </Fetched>
  );
}

function Compared({ answer }: { answer: WaysAnswer }) {
  const { session } = useBench();
  const show = useShow();
  const currency = usePick((v) => v.design.aim.currency);
  const { ways } = answer;
  const shown = (value: number | null, unit: string) => (value === null ? "–" : show(value, unit, 3).said);
  const rows: [string, (w: Way) => React.ReactNode][] = [
    [
      "Verdict",
      (w) =>
        w.verdict === null ? (
          <span className="signal">cannot be built</span>
        ) : (
          <VerdictMark verdict={w.verdict} />
        ),
    ],
    ["Tightest", (w) => <span className="small">{afterMark(w.in_words)}</span>],
    [
      "Still to spend",
      (w) => (
        <>
          {w.spend === null ? "–" : about(w.spend, currency, w.typical > 0)}
          {w.unpriced > 0 && <span className="quiet small"> and {w.unpriced} without a price</span>}
        </>
      ),
    ],
    ["Speed it reaches", (w) => shown(w.speed_mm_s, "mm/s")],
    ["Force while pushing", (w) => shown(w.force_n, "N")],
    ["Step on command", (w) => shown(w.resolution_mm, "mm")],
    ["Backlash", (w) => (w.backlash_mm === 0 ? "none" : shown(w.backlash_mm, "mm"))],
    ["Stiffness, softest place", (w) => shown(w.stiffness_n_mm, "N/mm")],
    [
      "Whirl of the screw",
      (w) => (w.whirl === null ? "none to whirl" : `${number(w.whirl, 3)} × the speed asked`),
    ],
    ["Stays put without power", (w) => (w.stays === null ? "not known" : w.stays ? "yes" : "no")],
    ["Parts", (w) => <span className="small">{w.parts || (w.key === "now" ? "" : "–")}</span>],
    ["The right choice", (w) => <span className="small">{w.right_when}</span>],
  ];
  return (
    <div data-ways>
      <p className="quiet small">
        {answer.tried} combinations worked out whole, from cheap to dear. For a belt the search finds better
        still.
      </p>
      <div className={css.compare}>
        <Table
          dense
          columns={[
            "",
            ...ways.map((w) => ({
              name: w.name,
              marks: { "data-way": w.key, "data-verdict": w.verdict ?? "cannot be built" } as const,
            })),
          ]}
        >
          {rows.map(([name, of]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              {ways.map((w) => (
                <td key={w.key}>{of(w)}</td>
              ))}
            </tr>
          ))}
          <tr>
            <td />
            {ways.map((w) => (
              <td key={w.key}>
                {w.key !== "now" && w.verdict !== null && (
                  <Act aria-label={`Take ${w.name}`} onClick={() => session.setAll(w.changes)}>
                    Take it
                  </Act>
                )}
              </td>
            ))}
          </tr>
        </Table>
      </div>
    </div>
  );
}
