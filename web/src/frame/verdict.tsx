/** The verdict as word, shape and pattern; colour only confirms it. */
import type { Verdict } from "../api/client";
import css from "./verdict.module.css";

const SHAPES: Record<Verdict, string> = {
  holds: "M1 1h10v10H1z",
  tight: "M1 1h10v10H1zM1 11L11 1",
  short: "M1 1L11 11M11 1L1 11",
  unknown: "M6 1a5 5 0 1 1 0 10a5 5 0 1 1 0-10zM6 5.5v1",
  "no demand": "M1 6h10",
  "cannot be worked out": "M1 1L11 11M11 1L1 11",
  "cannot be read": "M1 1L11 11M11 1L1 11M1 6h10",
};

/** A verdict's sentence without the word that its mark says already. */
export const afterMark = (says: string) => says.replace(/^(holds; |tight: |short: |unknown: )/, "");

export function VerdictMark({ verdict, word = true }: { verdict: Verdict; word?: boolean }) {
  const filled = verdict === "holds";
  const bad = verdict === "short" || verdict.startsWith("cannot");
  return (
    <span className={css.verdict} data-bad={bad}>
      <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
        <path
          d={SHAPES[verdict]}
          fill={filled ? "currentColor" : "none"}
          stroke="currentColor"
          strokeWidth={bad ? 2.4 : 1.5}
          strokeDasharray={verdict === "unknown" ? "2 1.5" : undefined}
        />
      </svg>
      {word ? verdict : <span className="hidden">{verdict}</span>}
    </span>
  );
}
