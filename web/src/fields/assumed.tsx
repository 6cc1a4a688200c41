/** What nobody has chosen yet: marked at its field, counted on its step, and confirmed where it is right. */
import { useMemo } from "react";
import type { Report } from "../api/client";
import { useBench, usePick, useShow } from "../design/context";
import { fieldAt, stepAt, titleAt } from "../design/fields";
import { useGo } from "../design/go";
import { getAt } from "../design/path";
import { Act } from "../kit/Act";
import { Fold } from "../kit/sheets";
import css from "./fields.module.css";

const sets = new WeakMap<Report, Set<string>>();

function setOf(report: Report | null): Set<string> | undefined {
  if (!report) return undefined;
  let known = sets.get(report);
  if (!known) sets.set(report, (known = new Set(report.assumed)));
  return known;
}

/** Whether the value at a path was chosen by nobody. */
export const useAssumed = (path: string): boolean => usePick((v) => setOf(v.report)?.has(path) ?? false);

/** How many of these values were chosen by nobody. */
export const useAssumedAmong = (paths: readonly string[]): number =>
  usePick((v) => paths.filter((p) => setOf(v.report)?.has(p)).length);

/** The assumed values of one step, counted, each to be looked at or kept. */
export function AssumedHere({ step }: { step: string }) {
  const { session, start } = useBench();
  const assumed = usePick((v) => v.report?.assumed?.join(" ") ?? "");
  const schema = start.design_schema;
  const here = useMemo(
    () => assumed.split(" ").filter((p) => p && stepAt(schema, session.get().design, p, "") === step),
    [assumed, schema, session, step],
  );
  if (here.length === 0) return null;
  return (
    <div className={css.assumedLine} data-assumed-count={here.length}>
      <Fold
        title={
          <>
            <span className={css.dash} aria-hidden="true" />
            {here.length === 1 ? "1 value" : `${here.length} values`} of this step assumed
          </>
        }
        says="nobody has chosen them: a broken line under each"
      >
        {() => (
          <>
            <p className="small quiet">
              They stand as the layout began. Type over what is not so; keep what is right. What you leave
              counts all the same. <Act onClick={() => session.choose(here)}>Keep all {here.length}</Act>
            </p>
            <ul className={css.assumedList}>
              {here.map((path) => (
                <One key={path} path={path} step={step} />
              ))}
            </ul>
          </>
        )}
      </Fold>
    </div>
  );
}

function One({ path, step }: { path: string; step: string }) {
  const { session, start } = useBench();
  const show = useShow();
  const go = useGo();
  const schema = start.design_schema;
  const { design } = session.get();
  const field = fieldAt(schema, design, path);
  const value = getAt(design, path);
  const said = typeof value === "number" ? show(value, field.unit, 6).said : String(value);
  const name = titleAt(schema, design, path);
  return (
    <li>
      <Act plain onClick={() => go(path, step)}>
        {name}
      </Act>
      <span className="nowrap">
        <b className="num">{said}</b>{" "}
        <Act plain aria-label={`Keep ${name}`} onClick={() => session.choose([path])}>
          keep
        </Act>
      </span>
    </li>
  );
}
