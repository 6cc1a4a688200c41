/** Path editor with its table of pulleys, and the fields of the one that is chosen. */
import type { BeltPlan, BeltRow } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { getAt } from "../../design/path";
import { PartPicker } from "../PartPicker";
import { PartForm } from "../PartForm";
import { number } from "../../units/format";
import { PathEditor, usePaths } from "./PathEditor";

export function Path({
  plan,
  chosen,
  choose,
}: {
  plan: BeltPlan | undefined;
  chosen: string;
  choose: (part: string) => void;
}) {
  const paths = usePaths();
  const count = Math.max((paths.data ?? []).filter((s) => s.strands.length > 0).length, paths.error ? 1 : 0);
  const belts = plan?.belts ?? [];
  return (
    <section className="sheet">
      <h2>
        Path <span className="quiet">to true scale; what you drag is answered at once</span>
        <Add plan={plan} choose={choose} />
      </h2>
      {Array.from({ length: count }, (_, i) => (
        <PathEditor key={i} place={i} chosen={chosen} choose={choose} tallest={count > 1 ? 250 : 330} />
      ))}
      {belts.map((b, i) => (
        <Wheels key={`${b.at} ${i}`} belt={b} chosen={chosen} choose={choose} />
      ))}
      <Chosen
        part={chosen}
        known={belts.some((b) => b.wheels.some((w) => w.part === chosen))}
        choose={choose}
      />
    </section>
  );
}

/** A further roller, offered where it presses a run aside; the program works out its place. */
function Add({ plan, choose }: { plan: BeltPlan | undefined; choose: (part: string) => void }) {
  const { session } = useBench();
  const belts = (plan?.belts ?? []).filter(
    (b, i, all) => b.offer && all.findIndex((o) => o.at === b.at) === i,
  );
  return (
    <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
      {belts.map((b) => (
        <button
          key={b.at}
          className="act tight"
          onClick={() => {
            const at = `${b.at}.rollers`;
            session.set(at, [b.offer, ...((getAt(session.get().design, at) as unknown[] | undefined) ?? [])]);
            choose(`${at}.0`);
          }}
        >
          {belts.length > 1 ? `Add a roller, ${b.closed ? "closed belt" : "open belt"}` : "Add a roller"}
        </button>
      ))}
    </span>
  );
}

function Wheels({ belt, chosen, choose }: { belt: BeltRow; chosen: string; choose: (part: string) => void }) {
  const show = useShow();
  const mm = (v: number | null | undefined, digits = 4) =>
    v === null || v === undefined ? "–" : show(v, "mm", digits).text;
  const unit = show(1, "mm").unit;
  return (
    <table className="wide rows" style={{ marginTop: 10 }} data-belt={belt.at}>
      <caption>
        {belt.name}:{" "}
        <b className="num">
          {mm(belt.length_mm, 6)} {unit}
        </b>{" "}
        {belt.closed ? "all round" : "from clamp to clamp"}
        {belt.pitches != null && (
          <>
            , <b className="num">{number(belt.pitches, 6)}</b> pitches
          </>
        )}
      </caption>
      <thead>
        <tr>
          <th>In belt order</th>
          <th>Touches</th>
          <th className="r">Teeth</th>
          <th className="r">x, {unit}</th>
          <th className="r">y, {unit}</th>
          <th className="r">Wrap</th>
          <th className="r">In mesh</th>
          <th>Turns</th>
          <th className="r">Pull at rest</th>
          <th className="r">Span after it, {unit}</th>
        </tr>
      </thead>
      <tbody>
        {belt.wheels.map((w, i) => (
          <tr key={i} className={w.part && w.part === chosen ? "on" : ""} data-row={w.part}>
            <td>
              {w.part ? (
                <button className="plain" onClick={() => choose(w.part)}>
                  {w.name}
                </button>
              ) : (
                w.name
              )}
            </td>
            <td>{w.touches || "end"}</td>
            <td className="r num">
              {w.teeth || (w.touches === "back" || w.touches === "teeth" ? "smooth" : "")}
            </td>
            <td className="r num">{mm(w.x_mm, 5)}</td>
            <td className="r num">{mm(w.y_mm)}</td>
            <td className="r num" data-wrap={w.part}>
              {w.touches ? `${w.wrap_deg.toFixed(1)}°` : ""}
            </td>
            <td className="r num">{w.meshed ?? ""}</td>
            <td>{w.turns}</td>
            <td className="r num">
              {w.load_n === null ? "" : `${show(w.load_n, "N").text} ${show(w.load_n, "N").unit}`}
            </td>
            <td className="r num">
              {w.span_near_mm === null
                ? ""
                : Math.abs((w.span_far_mm ?? 0) - w.span_near_mm) < 0.005
                  ? mm(w.span_near_mm, 5)
                  : `${mm(w.span_near_mm, 5)} to ${mm(w.span_far_mm, 5)}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Chosen({ part, known, choose }: { part: string; known: boolean; choose: (part: string) => void }) {
  const { session } = useBench();
  const there = usePick((v) => part !== "" && getAt(v.design, part) !== undefined);
  const name = usePick((v) => (getAt(v.design, part) as { label?: string } | undefined)?.label);
  if (!there || (!known && part !== "end.idler") || part === "end.clamp") return null;
  const roller = /\.rollers\.\d+$/.test(part);
  const idler = roller || part === "end.idler";
  const drop = () => {
    const list = part.replace(/\.\d+$/, "");
    const index = Number(part.split(".").at(-1));
    session.set(
      list,
      (getAt(session.get().design, list) as unknown[]).filter((_, i) => i !== index),
    );
    choose("end.pulley");
  };
  return (
    <div className="nested">
      <h3 style={{ display: "flex", gap: 10, alignItems: "baseline" }}>
        {(name || part.split(".").at(-1) || "").replace(/^./, (c) => c.toUpperCase())}
        <span style={{ marginLeft: "auto", display: "flex", gap: 8 }}>
          <PartPicker path={part} />
          {roller && (
            <button className="act tight" onClick={drop}>
              Take it out
            </button>
          )}
        </span>
      </h3>
      <PartForm
        path={part}
        nested={!idler}
        without={["seat_mm", "made_of", "sleeve", ...(idler ? [] : ["runout_mm"])]}
      />
    </div>
  );
}
