/** The drive line in power-flow order, the belt path to scale, and the editor of the part that is chosen. */
import { lazy, Suspense, useState } from "react";
import { useLocation } from "react-router";
import type { Design, Start } from "../../api/client";
import { useBench, useNumbers, useScale, useView } from "../../design/context";
import { modelAt } from "../../design/fields";
import { SceneDrawing } from "../../drawing/SceneDrawing";
import { LinePlot } from "../../plots/Lazy";
import { plainPath } from "../../frame/Ladder";
import { VerdictMark } from "../../frame/verdict";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { TablesOf } from "../TablesOf";
import { Guard } from "../../kit/Guard";
import { DriveLine, idOf, PANEL, type NodeData } from "./DriveLine";
import { PartEditor } from "./editors";
import { Cols, Sheet, Table } from "../../kit/sheets";
import { capital } from "../../units/words";

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
  return (
    <>
      <DriveLine nodes={nodes} on={part} choose={setChosen} />
      {report?.scene && (
        <Sheet>
          <SceneDrawing scene={report.scene} tallest={230} />
        </Sheet>
      )}
      <Cases />
      {node && (
        <div id={PANEL} role="tabpanel" aria-labelledby={idOf(node)}>
          <PartEditor key={node.at} node={node} choose={setChosen} />
        </div>
      )}
      <Guard what="The ways to a better drive">
        <Suspense fallback={null}>
          <Choose />
        </Suspense>
      </Guard>
      <TablesOf step="drive" />
      <Cols>
        <TorquePlot />
        <div>
          <Cautions step="drive" />
        </div>
      </Cols>
    </>
  );
}

function Cases() {
  const { report } = useNumbers();
  if (!report || report.cases.length === 0) return null;
  return (
    <Sheet title="Load cases" note={`the worst governs; figures below are for “${report.case}”`} data-cases>
      <Table>
        {report.cases.map((c) => (
          <tr key={c.name}>
            <td>{c.name}</td>
            <td>
              <VerdictMark verdict={c.verdict} />
            </td>
            <td className="small">{c.in_words}</td>
          </tr>
        ))}
      </Table>
    </Sheet>
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
    (n) => modelAt(start.design_schema, design, `end.${n}`) in start.takes,
  );
  return [
    ...design.chain.map((s, i) => node(`chain.${i}`, named(s as { label?: string; kind?: string }, "stage"))),
    ...pieces.map((n) => node(`end.${n}`, capital(named(end[n] as { label?: string }, n)))),
    ...(pieces.length === 0 ? [node("end", named(design.end as { kind?: string }, "end"))] : []),
  ];
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
      <Sheet title="Torque against speed">
        <p className="quiet">
          Unknown: it lacks {lacks}. A meter across one coil gives the ohms; the label or the maker's sheet
          gives the millihenries.
        </p>
      </Sheet>
    );
  }
  const speed = show(1, "mm/s");
  const torque = show(1, "N·m");
  const x = scale(curve.speed_mm_s, "mm/s");
  const need = curve.asked_torque_nm ?? 0;
  return (
    <Sheet title="Torque against speed" note="what the motor has left, and what the move asks">
      <LinePlot
        label={`Pull-out torque against speed of the ${report.point}; the move asks ${number(need)} N·m at ${number(curve.asked_speed_mm_s)} mm/s`}
        x={x}
        xAxis={{ name: `Speed of the ${report.point}`, unit: speed.unit }}
        yAxis={{ name: "Torque", unit: torque.unit }}
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
    </Sheet>
  );
}
