/** What a search found: what rejects the others, those that hold as points and as rows, and some of them side by side. */
import { useState } from "react";
import type { SearchAnswer } from "../../api/client";
import { usePick, useShow } from "../../design/context";
import { Act } from "../../kit/Act";
import { Words } from "../../kit/inputs";
import { walkRows } from "../../kit/rows";
import { Acts, Cols, Line, Num, Table } from "../../kit/sheets";
import { about, number } from "../../units/format";
import { SearchChart } from "./SearchChart";
import { useTake } from "./scope";

const compact = new Intl.NumberFormat("en", { notation: "compact", maximumSignificantDigits: 3 });
const inWords = new Intl.NumberFormat("en", {
  notation: "compact",
  compactDisplay: "long",
  maximumSignificantDigits: 3,
});
/** A large count in a few figures; the whole of it when pointed at. */
const Many = ({ n }: { n: number }) => (
  <span title={n.toLocaleString("en")} data-count={n}>
    {compact.format(n)}
  </span>
);

type Found = SearchAnswer["rows"][number];
type Column = "spend" | "headroom" | "speed_mm_s" | "resolution_mm" | "stiffness_n_mm" | "mass_kg";

const COLUMNS: readonly { key: Column; name: string; unit: string; less?: boolean }[] = [
  { key: "spend", name: "To spend", unit: "", less: true },
  { key: "headroom", name: "Least headroom", unit: "" },
  { key: "speed_mm_s", name: "Speed it reaches", unit: "mm/s" },
  { key: "resolution_mm", name: "Step", unit: "mm", less: true },
  { key: "stiffness_n_mm", name: "Stiffness", unit: "N/mm" },
  { key: "mass_kg", name: "Moving mass", unit: "kg", less: true },
];
const id = (r: Found) => r.index.join(" ");
const wordsOf = (r: Found) =>
  `${r.motor} ${r.gear} ${r.belt} ${r.worst} ${r.owned ? "owned" : ""}`.toLowerCase();

/** A number of a found drive, in words. */
function useSaid() {
  const show = useShow();
  const currency = usePick((v) => v.design.aim.currency);
  return (r: Found, { key, unit }: (typeof COLUMNS)[number]) => {
    if (key === "spend") return about(r.spend, currency, r.typical > 0);
    if (key === "headroom") return `${number(r.headroom, 3)} ×`;
    return show(r[key], unit, 3).said;
  };
}

export function SearchFound({ answer }: { answer: SearchAnswer }) {
  const [chosen, setChosen] = useState<Set<string> | null>(null);
  const [pins, setPins] = useState<string[]>([]);
  const [by, setBy] = useState<(typeof COLUMNS)[number] | null>(null); // as they come: the plainest first
  const [wanted, setWanted] = useState("");
  const currency = usePick((v) => v.design.aim.currency);
  const said = useSaid();
  const take = useTake();
  const pin = (r: Found) =>
    setPins((p) => (p.includes(id(r)) ? p.filter((x) => x !== id(r)) : [...p.slice(-2), id(r)]));
  const sought = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const listed = answer.rows.filter(
    (r) => (!chosen || chosen.has(id(r))) && sought.every((w) => wordsOf(r).includes(w)),
  );
  const rows = by ? [...listed].sort((a, b) => (by.less ? 1 : -1) * (a[by.key] - b[by.key])) : listed;
  const pinned = answer.rows.filter((r) => pins.includes(id(r)));
  return (
    <>
      <p data-search-says>
        Tried <b className="num">{answer.tried.toLocaleString("en")}</b>;{" "}
        <b className="num">{answer.holding.toLocaleString("en")}</b> hold,{" "}
        <b className="num">{answer.front}</b> of them {answer.front === 1 ? "is" : "are"} beaten by no other{" "}
        <span className="quiet">
          in money, headroom, speed, step, stiffness or mass (within {number(answer.alike * 100, 2)} % counts
          as alike)
        </span>
        . {answer.says}{" "}
        {answer.left_out > 0 && (
          <>
            Left out beforehand:{" "}
            <b title={answer.left_out.toLocaleString("en")}>{inWords.format(answer.left_out)}</b>, each no
            better in anything than one that was tried.{" "}
          </>
        )}
        {(answer.unused_rows ?? 0) > 0 && (
          <span data-unused>
            Not used: {answer.unused!.map((r) => `${r.name} (${r.why})`).join("; ")}
            {answer.unused_rows! > answer.unused!.length &&
              ` and ${answer.unused_rows! - answer.unused!.length} more rows of the drawer`}
            .{" "}
          </span>
        )}
        <span className="quiet small">
          The plainest first: money and trouble count together, further stages and sizes that few shops keep
          being trouble. Parts without a price of yours count at a typical one (≈).
          {answer.rows.some((r) => r.belt)
            ? " Belt line, flanges and what stands near the belt are settled in Belt."
            : " The end stays as it is."}
        </span>
      </p>
      <Cols>
        <Rejected answer={answer} />
        {answer.rows.length > 0 && (
          <SearchChart rows={answer.rows} id={id} currency={currency} brush={setChosen} chosen={chosen} />
        )}
      </Cols>
      {pinned.length > 0 && <SideBySide pinned={pinned} />}
      {answer.rows.length > 0 && (
        <Line>
          <Words
            bare
            roomy
            label="Only drives with these words"
            placeholder="only drives with these words"
            value={wanted}
            onValue={setWanted}
          />
          <span className="quiet small">
            <span className="num">{rows.length}</span> of {answer.rows.length} listed
            {chosen && "; drag or click on the plot to choose others"}. On a row: Enter takes it, P pins it,
            arrow keys go on.
          </span>
        </Line>
      )}
      {rows.length > 0 && (
        <div onKeyDown={walkRows}>
          <Table
            dense
            tall={330}
            label="Drives that hold"
            columns={[
              {
                name: (
                  <Act plain aria-pressed={by === null} onClick={() => setBy(null)}>
                    Drive, the plainest first
                  </Act>
                ),
                width: "31%",
              },
              ...COLUMNS.map((c) => ({
                name: (
                  <Act plain aria-pressed={by === c} onClick={() => setBy(c)}>
                    {c.name}
                    {by === c ? (c.less ? " ↑" : " ↓") : ""}
                  </Act>
                ),
                right: true,
              })),
              { name: "Tightest", width: "13%" },
              "",
            ]}
          >
            {rows.map((r, i) => (
              <tr
                key={id(r)}
                data-found={id(r)}
                tabIndex={i === 0 ? 0 : -1}
                onKeyDown={(e) => {
                  if (e.target !== e.currentTarget) return;
                  if (e.key === "Enter") take(r.changes);
                  if (e.key.toLowerCase() === "p") pin(r);
                }}
              >
                <td>
                  {[r.motor, r.gear, r.belt].filter(Boolean).join("; ")}; 1/{r.microsteps}
                  {r.owned ? (
                    <b> · owned</b>
                  ) : (
                    r.typical > 0 && <span className="quiet"> · {r.typical} at typical prices</span>
                  )}
                </td>
                {COLUMNS.map((c) => (
                  <Num key={c.key}>{said(r, c)}</Num>
                ))}
                <td className="small">{r.worst}</td>
                <Acts>
                  <Act
                    aria-pressed={pins.includes(id(r))}
                    aria-label={`Pin ${r.name}`}
                    onClick={() => pin(r)}
                  >
                    Pin
                  </Act>
                  <Act aria-label={`Take ${r.name}, 1/${r.microsteps}`} onClick={() => take(r.changes)}>
                    Take
                  </Act>
                </Acts>
              </tr>
            ))}
          </Table>
        </div>
      )}
    </>
  );
}

function Rejected({ answer }: { answer: SearchAnswer }) {
  return (
    <Table
      columns={[
        "What rejects",
        { name: "How many", right: true },
        { name: "Of", right: true },
        { name: "It alone", right: true },
      ]}
    >
      {answer.rejected.slice(0, 9).map((r) => (
        <tr key={r.key} data-rejected={r.key}>
          <td className="small">{r.label}</td>
          <Num>
            <Many n={r.count} />
          </Num>
          <Num>
            <span className="quiet">
              <Many n={r.asked} />
            </span>
          </Num>
          <Num>
            <Many n={r.alone} />
          </Num>
        </tr>
      ))}
    </Table>
  );
}

function SideBySide({ pinned }: { pinned: readonly Found[] }) {
  const said = useSaid();
  return (
    <Table
      dense
      data-pins
      columns={["Side by side", ...pinned.map((r) => ({ name: `${r.name}, 1/${r.microsteps}` }))]}
    >
      {COLUMNS.map((c) => (
        <tr key={c.key}>
          <td>{c.name}</td>
          {pinned.map((r) => (
            <td key={id(r)} className="num">
              {said(r, c)}
            </td>
          ))}
        </tr>
      ))}
      <tr>
        <td>Tightest</td>
        {pinned.map((r) => (
          <td key={id(r)}>{r.worst}</td>
        ))}
      </tr>
    </Table>
  );
}
