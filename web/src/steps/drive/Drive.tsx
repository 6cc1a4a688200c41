/** The drive line in power-flow order, the belt path to scale, and the editor of the part that is chosen. */
import { lazy, Suspense, useState, type KeyboardEvent } from "react";
import { useLocation } from "react-router";
import type { Design, Start } from "../../api/client";
import { useBench, useNumbers, useScale, useView } from "../../design/context";
import { modelAt, type Schema } from "../../design/fields";
import { SceneDrawing } from "../../drawing/SceneDrawing";
import { LinePlot } from "../../plots/Lazy";
import { plainPath } from "../../frame/Ladder";
import { VerdictMark } from "../../frame/verdict";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { PartEditor } from "./editors";

const Choose = lazy(() => import("./Choose"));

export default function Drive() {
  const { report } = useNumbers();
  const { start } = useBench();
  const { hash } = useLocation();
  const [chosen, setChosen] = useState<string | null>(null);
  const { design, problems } = useView();
  const nodes = report?.drive_line ?? (problems.length > 0 ? bare(design, start) : []);
  const hashed = hash.slice(1);
  // The node whose part holds the field that a rung leads to: the longest path wins.
  const led = nodes
    .filter((n) => hashed && `${hashed}.`.startsWith(`${n.at}.`))
    .sort((a, b) => b.at.length - a.at.length)[0];
  const node = nodes.find((n) => n.part === chosen) ?? led ?? nodes[0];
  const part = node?.part ?? "";
  const walk = (e: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    if (!by) return;
    e.preventDefault();
    const next = nodes[nodes.findIndex((n) => n.part === part) + by];
    if (next) {
      setChosen(next.part);
      document.getElementById(`node-${next.part}`)?.focus();
    }
  };
  return (
    <>
      <div className="line" role="tablist" aria-label="Drive line, from motor to carriage" onKeyDown={walk}>
        {nodes.map((n) => (
          <Node
            key={n.part}
            id={`node-${n.part}`}
            node={n}
            on={part === n.part}
            choose={() => setChosen(n.part)}
          />
        ))}
      </div>
      {report?.scene && (
        <section className="sheet" style={{ padding: "8px 12px 9px" }}>
          <SceneDrawing scene={report.scene} tallest={230} />
        </section>
      )}
      <Cases />
      {node && <PartEditor key={node.at} node={node} />}
      <Suspense fallback={null}>
        <Choose />
      </Suspense>
      {report?.tables.map((t) => (
        <TableSheet key={t.key} table={t} />
      ))}
      <div className="cols">
        <TorquePlot />
        <div>
          <Cautions step="drive" />
        </div>
      </div>
    </>
  );
}

function Cases() {
  const { report } = useNumbers();
  if (!report || report.cases.length === 0) return null;
  return (
    <section className="sheet" data-cases>
      <h2>
        Load cases <span className="quiet">the worst governs; figures below are for “{report.case}”</span>
      </h2>
      <table>
        <tbody>
          {report.cases.map((c) => (
            <tr key={c.name}>
              <td style={{ width: 180 }}>{c.name}</td>
              <td style={{ width: 110 }}>
                <VerdictMark verdict={c.verdict} />
              </td>
              <td className="small">{c.in_words}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

export function TableSheet({ table }: { table: Table }) {
  return (
    <section className="sheet" data-table={table.key}>
      <h2>
        {table.title} {table.note && <span className="quiet">{table.note}</span>}
      </h2>
      <table className="wide">
        <thead>
          <tr>
            {table.head.map((h) => (
              <th key={h} className="r">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, i) => (
            <tr key={i}>
              {row.map((c, j) => (
                <td key={j} className="r num">
                  {typeof c === "number" ? number(c, 4) : (c ?? "–")}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The parts of a design that could not be worked out at all, without numbers: each can still be opened and mended. */
function bare(design: Design, start: Start): NodeData[] {
  const node = (at: string, label: string): NodeData => ({
    part: at === "chain.0" ? "field" : at.replace(/^end\./, ""),
    label,
    at,
    field: "",
    main: "",
    speed: null,
    speed_unit: "",
    load: null,
    load_unit: "",
    give_share: null,
    shows: [],
  });
  const named = (part: { label?: string; kind?: string } | undefined, plain: string) =>
    part?.label || part?.kind?.replaceAll("_", " ") || plain;
  const end = design.end as unknown as Record<string, { label?: string } | string>;
  const pieces = Object.keys(end).filter(
    (n) => modelAt(start.design_schema as unknown as Schema, design, `end.${n}`) in start.takes,
  );
  return [
    ...design.chain.map((s, i) => node(`chain.${i}`, named(s as { label?: string; kind?: string }, "stage"))),
    ...pieces.map((n) =>
      node(
        `end.${n}`,
        named(end[n] as { label?: string }, n).replace(/^./, (c) => c.toUpperCase()),
      ),
    ),
    ...(pieces.length === 0 ? [node("end", named(design.end as { kind?: string }, "end"))] : []),
  ];
}

type Table = NonNullable<ReturnType<typeof useNumbers>["report"]>["tables"][number];
type NodeData = NonNullable<ReturnType<typeof useNumbers>["report"]>["drive_line"][number];

function Node({ id, node, on, choose }: { id: string; node: NodeData; on: boolean; choose: () => void }) {
  const { show } = useNumbers();
  const speed = show(node.speed, node.speed_unit);
  const load = show(node.load, node.load_unit);
  return (
    <button
      id={id}
      role="tab"
      aria-selected={on}
      tabIndex={on ? 0 : -1}
      className={on ? "on" : ""}
      onClick={choose}
      data-part={node.part}
      title={node.label}
    >
      <div className="what quiet">{node.label}</div>
      <div className="main">{node.main}</div>
      {node.speed !== null && (
        <div className="flow">
          {speed.text} {speed.unit}
        </div>
      )}
      {node.load !== null && (
        <div className="flow">
          {load.text} {load.unit}
        </div>
      )}
      {node.give_share !== null ? (
        <div className="small" title="share of the give at the carriage, softest place">
          <div className="bar">
            <i style={{ width: `${Math.max(1, node.give_share * 100)}%` }} />
          </div>
          <span className="flow">{number(node.give_share * 100, 2)} % of the give</span>
        </div>
      ) : (
        <div className="flow quiet">{node.part === "idler_mount" ? "rigid mount" : ""}</div>
      )}
    </button>
  );
}

function TorquePlot() {
  const { show } = useNumbers();
  const scale = useScale();
  const { report } = useView();
  const curve = report?.torque_curve;
  if (!report) return null;
  if (!curve) {
    const lacks = report.results
      .find((q) => q.key === "motor.pull_out_top")
      ?.missing.map(plainPath)
      .join(", ");
    if (!lacks) return null;
    return (
      <section className="sheet">
        <h2>Torque against speed</h2>
        <p className="quiet">
          Unknown: it lacks {lacks}. A meter across one coil gives the ohms; the label or the maker's sheet
          gives the millihenries.
        </p>
      </section>
    );
  }
  const speed = show(1, "mm/s");
  const torque = show(1, "N·m");
  const x = scale(curve.speed_mm_s, "mm/s");
  const need = curve.asked_torque_nm ?? 0;
  return (
    <section className="sheet">
      <h2>
        Torque against speed <span className="quiet">what the motor has left, and what the move asks</span>
      </h2>
      <LinePlot
        label={`Pull-out torque against speed of the carriage; the move asks ${number(need)} N·m at ${number(curve.asked_speed_mm_s)} mm/s`}
        x={x}
        xLabel={`Speed of the carriage, ${speed.unit}`}
        yLabel={`Torque, ${torque.unit}`}
        height={230}
        lines={[
          { label: "motor has", y: scale(curve.torque_nm, "N·m") },
          {
            label: "move asks",
            y: scale(
              curve.speed_mm_s.map(() => need),
              "N·m",
            ),
            signal: true,
          },
          {
            label: "with margin",
            y: scale(
              curve.speed_mm_s.map(() => need * curve.margin),
              "N·m",
            ),
            dash: [4, 4],
            signal: true,
          },
        ]}
        marks={[{ x: scale([curve.asked_speed_mm_s], "mm/s")[0] ?? 0, text: "speed wanted" }]}
      />
    </section>
  );
}
