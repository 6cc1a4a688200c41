/** Other ways: the same aim by belt, screw and rack side by side, with the cheapest parts found for each. */
import { useState } from "react";
import type { WaysAnswer } from "../../api/client";
import { useWays } from "../../api/queries";
import { useBench, usePick, useShow, useView } from "../../design/context";
import { VerdictMark } from "../../frame/verdict";
import { money, number } from "../../units/format";
import { Refused } from "./Refused";

type Way = WaysAnswer["ways"][number];

export default function OtherWays() {
  const view = useView();
  const { session } = useBench();
  const [done, setDone] = useState(0);
  const found = useWays(view.design, setDone);
  const show = useShow();
  const currency = usePick((v) => v.design.aim.currency);
  if (!found.data)
    return (
      <>
        <Refused error={found.error} />
        {found.isPending && (
          <p role="status">
            <progress value={done} max={1} aria-label="How much is worked out" /> Working out every way…
          </p>
        )}
      </>
    );
  const ways = found.data.ways;
  const shown = (value: number | null, unit: string) =>
    value === null ? "–" : ((s) => `${s.text} ${s.unit}`)(show(value, unit, 3));
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
    [
      "Tightest",
      (w) => <span className="small">{w.in_words.replace(/^(holds|tight|short|unknown)[:;] /, "")}</span>,
    ],
    [
      "Still to spend",
      (w) => (
        <>
          {w.spend === null ? "–" : money(w.spend, currency)}
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
        {found.data.tried} combinations worked out whole, from cheap to dear. For a belt the search finds
        better still.
      </p>
      <div style={{ overflowX: "auto" }}>
        <table className="wide rows compare">
          <thead>
            <tr>
              <th />
              {ways.map((w) => (
                <th key={w.key} data-way={w.key} data-verdict={w.verdict ?? "cannot be built"}>
                  {w.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
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
                    <button
                      className="act tight"
                      aria-label={`Take ${w.name}`}
                      onClick={() => session.setAll(w.changes)}
                    >
                      Take it
                    </button>
                  )}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  );
}
