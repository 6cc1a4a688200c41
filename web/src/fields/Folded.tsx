/** Fields that few need, folded, with the values in force in a line. */
import type { ReactNode } from "react";
import { useBench, usePick, useShow } from "../design/context";
import { fieldAt } from "../design/fields";
import { getAt } from "../design/path";
import { Fold } from "../kit/sheets";
import { useAssumedAmong } from "./assumed";
import { lower } from "../units/words";

export function Folded({
  title,
  paths,
  children,
  sheet,
}: {
  title: string;
  paths: readonly string[];
  children: ReactNode;
  sheet?: boolean;
}) {
  const { session, start } = useBench();
  const show = useShow();
  const assumed = useAssumedAmong(paths);
  // One text, so that it is drawn anew only when one of these values changes.
  const values = usePick((v) => JSON.stringify(paths.map((p) => getAt(v.design, p) ?? null)));
  const schema = start.design_schema;
  const said = (JSON.parse(values) as unknown[]).map((value, i) => {
    const field = fieldAt(schema, session.get().design, paths[i]!);
    if (field.bill || value === null || value === "" || value === false) return "";
    const title = lower(field.title);
    if (value === true) return title;
    const said = typeof value === "number" ? show(value, field.unit, 4).said : String(value);
    return `${title} ${typeof value === "number" ? said.replace(" ", "\u00a0") : said}`;
  });
  return (
    <Fold
      sheet={sheet}
      title={title}
      says={
        <>
          {said.filter(Boolean).join(" · ")}
          {assumed > 0 && <i> ({assumed} assumed)</i>}
        </>
      }
    >
      {children}
    </Fold>
  );
}
