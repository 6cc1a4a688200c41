/** The drive line in power-flow order, motor first: every part a tab, with what flows through it. */
import type { KeyboardEvent } from "react";
import { UnstyledButton } from "@mantine/core";
import type { Report } from "../../api/client";
import { useNumbers } from "../../design/context";
import { number } from "../../units/format";
import css from "./driveline.module.css";

export type NodeData = Report["drive_line"][number];

export const PANEL = "part-of-the-line";
export const idOf = (node: NodeData) => `node-${node.part}`;

export function DriveLine({
  nodes,
  on,
  choose,
}: {
  nodes: readonly NodeData[];
  on: string;
  choose: (part: string) => void;
}) {
  const walk = (e: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    if (!by) return;
    e.preventDefault();
    const next = nodes[nodes.findIndex((n) => n.part === on) + by];
    if (next) {
      choose(next.part);
      document.getElementById(idOf(next))?.focus();
    }
  };
  return (
    <div
      className={css.line}
      role="tablist"
      aria-label="Drive line, from motor to carriage"
      onKeyDown={walk}
      data-drive-line
    >
      {nodes.map((n) => (
        <Node key={n.part} node={n} on={on === n.part} choose={() => choose(n.part)} />
      ))}
    </div>
  );
}

function Node({ node, on, choose }: { node: NodeData; on: boolean; choose: () => void }) {
  const { show } = useNumbers();
  const flow = (value: number | null, unit: string) => {
    if (value === null) return null;
    const got = show(value, unit);
    return <span className={css.flow}>{got.said}</span>;
  };
  return (
    <UnstyledButton
      id={idOf(node)}
      role="tab"
      aria-selected={on}
      aria-controls={PANEL}
      tabIndex={on ? 0 : -1}
      className={css.node}
      onClick={choose}
      data-part={node.part}
      title={node.label}
    >
      <span className={css.what}>{node.label}</span>
      <span className={css.main}>{node.main}</span>
      {flow(node.speed, node.speed_unit)}
      {flow(node.load, node.load_unit)}
      {node.give_share !== null ? (
        <span title="share of the give at the carriage, softest place">
          <svg className={css.bar} viewBox="0 0 100 5" preserveAspectRatio="none" aria-hidden="true">
            <rect width={Math.max(1, node.give_share * 100)} height="5" fill="currentColor" />
          </svg>
          <span className={css.flow}>{number(node.give_share * 100, 2)} % of the give</span>
        </span>
      ) : (
        node.part === "idler_mount" && <span className={css.flow}>rigid mount</span>
      )}
    </UnstyledButton>
  );
}
