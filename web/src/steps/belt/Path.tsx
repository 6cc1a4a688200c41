/** Path editor with its table of pulleys, and the fields of the one that is chosen. */
import { Refusal, type BeltPlan, type BeltRow } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { inserted, without } from "../../design/rows";
import { getAt } from "../../design/path";
import { PartPicker } from "../PartPicker";
import { PartForm } from "../PartForm";
import { number } from "../../units/format";
import { PathEditor, usePaths } from "./PathEditor";
import { Act } from "../../kit/Act";
import { Failed } from "../../kit/Notice";
import { Num, Part, Sheet, Table } from "../../kit/sheets";
import { capital } from "../../units/words";

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
  const count = Math.max(paths.data.filter((s) => s.strands.length > 0).length, paths.error ? 1 : 0);
  const belts = plan?.belts ?? [];
  // What the design itself does not allow is said beside the drawing.
  const lost = paths.error && !(paths.error instanceof Refusal && paths.error.problems.length > 0);
  return (
    <Sheet
      title="Path"
      note="to true scale; what you drag is answered at once"
      aside={<Add plan={plan} choose={choose} />}
    >
      {lost && (
        <Failed
          of={paths.error}
          title="The drawing of the path cannot be shown"
          again={() => void paths.refetch()}
        />
      )}
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
    </Sheet>
  );
}

/** A further roller, offered where it presses a run aside; the program works out its place. */
function Add({ plan, choose }: { plan: BeltPlan | undefined; choose: (part: string) => void }) {
  const { session } = useBench();
  const belts = (plan?.belts ?? []).filter(
    (b, i, all) => b.offer && all.findIndex((o) => o.at === b.at) === i,
  );
  return (
    <>
      {belts.map((b) => (
        <Act
          key={b.at}
          onClick={() => {
            const at = `${b.at}.rollers`;
            session.setRows(inserted(session.get().design, at, 0, b.offer));
            choose(`${at}.0`);
          }}
        >
          {belts.length > 1 ? `Add a roller, ${b.closed ? "closed belt" : "open belt"}` : "Add a roller"}
        </Act>
      ))}
    </>
  );
}

function Wheels({ belt, chosen, choose }: { belt: BeltRow; chosen: string; choose: (part: string) => void }) {
  const show = useShow();
  const mm = (v: number | null | undefined, digits = 4) =>
    v === null || v === undefined ? "–" : show(v, "mm", digits).text;
  const unit = show(1, "mm").unit;
  return (
    <Table
      columns={[
        "In belt order",
        "Touches",
        { name: "Teeth", right: true },
        { name: <>x, {unit}</>, right: true },
        { name: <>y, {unit}</>, right: true },
        { name: "Wrap", right: true },
        { name: "In mesh", right: true },
        "Turns",
        { name: "Pull at rest", right: true },
        { name: <>Span after it, {unit}</>, right: true },
      ]}
      dense
      data-belt={belt.at}
      caption={
        <>
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
        </>
      }
    >
      {belt.wheels.map((w, i) => (
        <tr key={i} data-on={w.part && w.part === chosen} data-row={w.part}>
          <td>
            {w.part ? (
              <Act plain onClick={() => choose(w.part)}>
                {w.name}
              </Act>
            ) : (
              w.name
            )}
          </td>
          <td>{w.touches || "end"}</td>
          <Num>{w.teeth || (w.touches === "back" || w.touches === "teeth" ? "smooth" : "")}</Num>
          <Num>{mm(w.x_mm, 5)}</Num>
          <Num>{mm(w.y_mm)}</Num>
          <Num data-wrap={w.part}>{w.touches ? `${w.wrap_deg.toFixed(1)}°` : ""}</Num>
          <Num>{w.meshed ?? ""}</Num>
          <td>{w.turns}</td>
          <Num>{w.load_n === null ? "" : show(w.load_n, "N").said}</Num>
          <Num>
            {w.span_near_mm === null
              ? ""
              : Math.abs((w.span_far_mm ?? 0) - w.span_near_mm) < 0.005
                ? mm(w.span_near_mm, 5)
                : `${mm(w.span_near_mm, 5)} to ${mm(w.span_far_mm, 5)}`}
          </Num>
        </tr>
      ))}
    </Table>
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
    session.setRows(without(session.get().design, list, index));
    choose("end.pulley");
  };
  return (
    <Part
      title={capital(name || part.split(".").at(-1) || "")}
      aside={
        <>
          <PartPicker path={part} />
          {roller && <Act onClick={drop}>Take it out</Act>}
        </>
      }
    >
      <PartForm
        path={part}
        nested={!idler}
        without={["seat_mm", "made_of", "sleeve", ...(idler ? [] : ["runout_mm"])]}
      />
    </Part>
  );
}
