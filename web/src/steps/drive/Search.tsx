/** Search the drawer: every buildable drive for this aim, what rejects the others, and the best of those that hold. */
import { useRef, useState, type PointerEvent } from "react";
import { useMutation } from "@tanstack/react-query";
import { askLines, type Design, type SearchAnswer, type SearchLine } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { money, number } from "../../units/format";
import { Refused } from "./Refused";
import { ScopeChoice, useTake, type Scope } from "./scope";

const compact = new Intl.NumberFormat("en", { notation: "compact", maximumSignificantDigits: 3 });
/** A large count in a few figures; the whole of it when pointed at. */
const Many = ({ n }: { n: number }) => (
  <span title={n.toLocaleString("en")} data-count={n}>
    {compact.format(n)}
  </span>
);

type Found = SearchAnswer["rows"][number];
type Column = "spend" | "headroom" | "speed_mm_s" | "resolution_mm" | "stiffness_n_mm" | "mass_kg";
const REDUCTIONS = [
  ["direct", "direct"],
  ["gearbox", "gearbox"],
  ["closed belt", "one closed belt"],
  ["two closed belts", "two closed belts"],
] as const;
type Reduction = (typeof REDUCTIONS)[number][0];

export default function Search() {
  const { session } = useBench();
  const [scope, setScope] = useState<Scope>("anything");
  const [kinds, setKinds] = useState<Reduction[]>(["direct", "gearbox", "closed belt"]);
  const [done, setDone] = useState(0);
  const [place, setPlace] = useState(0);
  const stop = useRef<AbortController | null>(null);
  const search = useMutation({
    mutationFn: async (design: Design) => {
      let answer: SearchAnswer | null = null;
      setDone(0);
      await askLines<SearchLine>(
        "/search",
        { body: { design, scope, reductions: kinds }, signal: (stop.current = new AbortController()).signal },
        (line) => {
          setDone(line.done);
          setPlace(line.place ?? 0);
          answer = line.answer ?? null;
        },
      );
      return answer as SearchAnswer | null;
    },
  });
  const answer = search.data;
  const now = usePick((v) => v.design);
  const tick = (kind: Reduction) =>
    setKinds((k) => (k.includes(kind) ? k.filter((x) => x !== kind) : [...k, kind]));
  return (
    <div data-search>
      <div style={{ display: "flex", gap: "6px 18px", flexWrap: "wrap", alignItems: "center" }}>
        <ScopeChoice scope={scope} choose={setScope} />
        <fieldset className="ticks" aria-label="Reductions to try">
          {REDUCTIONS.map(([kind, name]) => (
            <label key={kind}>
              <input type="checkbox" checked={kinds.includes(kind)} onChange={() => tick(kind)} /> {name}
            </label>
          ))}
        </fieldset>
        <span style={{ marginLeft: "auto" }}>
          {search.isPending ? (
            <button className="act tight" onClick={() => stop.current?.abort()}>
              Stop
            </button>
          ) : (
            <button
              className="act tight main"
              disabled={!kinds.length}
              onClick={() => search.mutate(session.get().design)}
            >
              Search
            </button>
          )}
        </span>
      </div>
      {search.isPending && place > 0 && (
        <p role="status">
          {place === 1 ? "Another search is" : `${place} other searches are`} before this one; it begins by
          itself.
        </p>
      )}
      {search.isPending && place === 0 && (
        <p role="status">
          <progress value={done} max={1} aria-label="How much is tried" />{" "}
          <span className="num">{Math.floor(done * 100)} %</span> of the combinations tried…
          {kinds.includes("two closed belts") &&
            done < 0.05 &&
            " two closed belts make a very large space; this takes minutes"}
        </p>
      )}
      <Refused error={search.error} />
      {answer && !search.isPending && search.variables !== now && (
        <p className="quiet small" role="note">
          The design has changed since this search; search again for what it is now.
        </p>
      )}
      {answer && !search.isPending && <Answer key={answer.tried + answer.holding} answer={answer} />}
    </div>
  );
}

function Answer({ answer }: { answer: SearchAnswer }) {
  const [chosen, setChosen] = useState<Set<string> | null>(null);
  const [pins, setPins] = useState<string[]>([]);
  const [column, setColumn] = useState<Column>("spend");
  const show = useShow();
  const currency = usePick((v) => v.design.aim.currency);
  const take = useTake();
  const pin = (r: Found) =>
    setPins((p) => (p.includes(id(r)) ? p.filter((x) => x !== id(r)) : [...p.slice(-2), id(r)]));
  const id = (r: Found) => r.index.join(" ");
  const better = column === "spend" || column === "resolution_mm" || column === "mass_kg" ? 1 : -1;
  const [wanted, setWanted] = useState("");
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const whole = (r: Found) =>
    `${r.motor} ${r.gear} ${r.belt} ${r.worst} ${r.owned ? "owned" : ""}`.toLowerCase();
  const rows = answer.rows
    .filter((r) => (!chosen || chosen.has(id(r))) && words.every((w) => whole(r).includes(w)))
    .sort((a, b) => better * (a[column] - b[column]));
  const pinned = answer.rows.filter((r) => pins.includes(id(r)));
  const head: [Column, string][] = [
    ["spend", "To spend"],
    ["headroom", "Least headroom"],
    ["speed_mm_s", "Speed it reaches"],
    ["resolution_mm", "Step"],
    ["stiffness_n_mm", "Stiffness"],
    ["mass_kg", "Moving mass"],
  ];
  const said = (r: Found, c: Column) =>
    c === "spend"
      ? money(r.spend, currency)
      : c === "headroom"
        ? `${number(r.headroom, 3)} ×`
        : ((u) => `${u.text} ${u.unit}`)(
            show(
              r[c],
              { speed_mm_s: "mm/s", resolution_mm: "mm", stiffness_n_mm: "N/mm", mass_kg: "kg" }[c],
              3,
            ),
          );
  return (
    <>
      <p data-search-says style={{ marginTop: 6 }}>
        Tried <b className="num">{answer.tried.toLocaleString("en")}</b>;{" "}
        <b className="num">{answer.holding.toLocaleString("en")}</b> hold,{" "}
        <b className="num">{answer.front}</b> of them are beaten by no other{" "}
        <span className="quiet">
          in money, headroom, speed, step, stiffness or mass (within {number(answer.alike * 100, 2)} % counts
          as alike)
        </span>
        . {answer.says}{" "}
        {answer.left_out > 0 && (
          <>
            Left out beforehand:{" "}
            <b title={answer.left_out.toLocaleString("en")}>
              {new Intl.NumberFormat("en", {
                notation: "compact",
                compactDisplay: "long",
                maximumSignificantDigits: 3,
              }).format(answer.left_out)}
            </b>
            , each no better in anything than one that was tried.{" "}
          </>
        )}
        <span className="quiet small">
          Parts without a price count as nothing to pay. Belt line, flanges and what stands near the belt are
          settled in Belt.
        </span>
      </p>
      <div
        className="cols"
        style={{ gridTemplateColumns: "minmax(0, 1fr) minmax(0, 1.1fr)", margin: "8px 0" }}
      >
        <table className="rows">
          <thead>
            <tr>
              <th>What rejects</th>
              <th className="r">How many</th>
              <th className="r">Of</th>
              <th className="r">It alone</th>
            </tr>
          </thead>
          <tbody>
            {answer.rejected.slice(0, 9).map((r) => (
              <tr key={r.key} data-rejected={r.key}>
                <td className="small">{r.label}</td>
                <td className="r num">
                  <Many n={r.count} />
                </td>
                <td className="r num quiet">
                  <Many n={r.asked} />
                </td>
                <td className="r num">
                  <Many n={r.alone} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {answer.rows.length > 0 && (
          <Plot rows={answer.rows} id={id} currency={currency} brush={setChosen} chosen={chosen} />
        )}
      </div>
      {pinned.length > 0 && (
        <table className="wide rows" data-pins>
          <thead>
            <tr>
              <th>Side by side</th>
              {pinned.map((r) => (
                <th key={id(r)}>
                  {r.name}, 1/{r.microsteps}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {head.map(([c, name]) => (
              <tr key={c}>
                <td>{name}</td>
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
          </tbody>
        </table>
      )}
      {answer.rows.length > 0 && (
        <div style={{ display: "flex", gap: 10, alignItems: "center", margin: "6px 0" }}>
          <div className="field text" style={{ width: 260 }}>
            <div className="box">
              <input
                aria-label="Only drives with these words"
                placeholder="only drives with these words"
                value={wanted}
                onChange={(e) => setWanted(e.target.value)}
              />
            </div>
          </div>
          <span className="quiet small">
            <span className="num">{rows.length}</span> of {answer.rows.length} listed
            {chosen && "; drag or click on the plot to choose others"}. On a row: Enter takes it, P pins it.
          </span>
        </div>
      )}
      {rows.length > 0 && (
        <div style={{ maxHeight: 330, overflowY: "auto" }}>
          <table className="wide rows">
            <thead>
              <tr>
                <th>Drive</th>
                {head.map(([c, name]) => (
                  <th key={c} className="r">
                    <button className="plain" aria-pressed={column === c} onClick={() => setColumn(c)}>
                      {name}
                      {column === c ? (better > 0 ? " ↑" : " ↓") : ""}
                    </button>
                  </th>
                ))}
                <th>Tightest</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr
                  key={id(r)}
                  data-found={id(r)}
                  tabIndex={0}
                  onKeyDown={(e) => {
                    if (e.target !== e.currentTarget) return;
                    if (e.key === "Enter") take(r.changes);
                    if (e.key.toLowerCase() === "p") pin(r);
                  }}
                >
                  <td>
                    {r.motor}; {r.gear}; {r.belt}; 1/{r.microsteps}
                    {r.owned ? (
                      <b> · owned</b>
                    ) : (
                      r.unpriced > 0 && <span className="quiet"> · {r.unpriced} without a price</span>
                    )}
                  </td>
                  {head.map(([c]) => (
                    <td key={c} className="r num">
                      {said(r, c)}
                    </td>
                  ))}
                  <td className="small">{r.worst}</td>
                  <td className="r" style={{ whiteSpace: "nowrap" }}>
                    <button
                      className="act tight"
                      aria-pressed={pins.includes(id(r))}
                      aria-label={`Pin ${r.name}`}
                      onClick={() => pin(r)}
                    >
                      Pin
                    </button>{" "}
                    <button
                      className="act tight"
                      aria-label={`Take ${r.name}, 1/${r.microsteps}`}
                      onClick={() => take(r.changes)}
                    >
                      Take
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

const W = 430;
const H = 210;

/** Money against headroom; dragging over it chooses rows. */
function Plot({
  rows,
  id,
  currency,
  brush,
  chosen,
}: {
  rows: readonly Found[];
  id: (r: Found) => string;
  currency: string;
  brush: (found: Set<string> | null) => void;
  chosen: Set<string> | null;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<[number, number, number, number] | null>(null);
  const most = Math.max(...rows.map((r) => r.spend), 1);
  const [low, high] = [Math.min(...rows.map((r) => r.headroom)), Math.max(...rows.map((r) => r.headroom))];
  const x = (r: Found) => 46 + (r.spend / most) * (W - 60);
  const y = (r: Found) => H - 34 - ((r.headroom - low) / Math.max(high - low, 1e-9)) * (H - 54);
  const at = (e: PointerEvent): [number, number] => {
    const seen = svg.current!.getBoundingClientRect();
    return [((e.clientX - seen.left) * W) / seen.width, ((e.clientY - seen.top) * H) / seen.height];
  };
  const done = () => {
    if (!box) return;
    const [x0, y0, x1, y1] = box;
    setBox(null);
    if (Math.abs(x1 - x0) < 4 && Math.abs(y1 - y0) < 4) return brush(null);
    brush(
      new Set(
        rows
          .filter(
            (r) =>
              x(r) >= Math.min(x0, x1) &&
              x(r) <= Math.max(x0, x1) &&
              y(r) >= Math.min(y0, y1) &&
              y(r) <= Math.max(y0, y1),
          )
          .map(id),
      ),
    );
  };
  return (
    <svg
      ref={svg}
      className="drawing"
      viewBox={`0 0 ${W} ${H}`}
      style={{ cursor: "crosshair" }}
      role="img"
      aria-label={`Money to spend against least headroom of ${rows.length} drives; drag over some to list only those`}
      data-brush
      onPointerDown={(e) => {
        const [a, b] = at(e);
        e.currentTarget.setPointerCapture(e.pointerId);
        setBox([a, b, a, b]);
      }}
      onPointerMove={(e) => box && setBox([box[0], box[1], ...at(e)])}
      onPointerUp={done}
    >
      <line x1="46" x2={W - 8} y1={H - 34} y2={H - 34} stroke="var(--pencil)" />
      <line x1="46" x2="46" y1="12" y2={H - 34} stroke="var(--pencil)" />
      <text x="46" y={H - 20} fontSize="10">
        0
      </text>
      <text x={W - 10} y={H - 20} fontSize="10" textAnchor="end">
        {money(most, currency)}
      </text>
      <text x={W / 2} y={H - 6} fontSize="10.5" textAnchor="middle">
        money still to spend
      </text>
      <text x="42" y={H - 34} fontSize="10" textAnchor="end">
        {number(low, 3)}×
      </text>
      <text x="42" y="20" fontSize="10" textAnchor="end">
        {number(high, 3)}×
      </text>
      <text transform={`translate(11 ${H / 2}) rotate(-90)`} fontSize="10.5" textAnchor="middle">
        least headroom
      </text>
      {rows.map((r) => (
        <circle
          key={id(r)}
          cx={x(r)}
          cy={y(r)}
          r={r.owned ? 4.5 : 3}
          fill={!chosen || chosen.has(id(r)) ? "var(--ink)" : "none"}
          stroke="var(--ink)"
        />
      ))}
      {box && (
        <rect
          x={Math.min(box[0], box[2])}
          y={Math.min(box[1], box[3])}
          width={Math.abs(box[2] - box[0])}
          height={Math.abs(box[3] - box[1])}
          fill="none"
          stroke="var(--ink)"
          strokeDasharray="4 3"
        />
      )}
    </svg>
  );
}
