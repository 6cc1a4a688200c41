/** A list of the design: a line of fields for each row, one more, one less. What was chosen or measured in a row goes with it. */
import type { ReactNode } from "react";
import { useBench, useMost, usePick } from "../design/context";
import { inserted, without } from "../design/rows";
import { getAt } from "../design/path";
import { Act } from "../kit/Act";
import { Fields, Line } from "../kit/sheets";

interface Props {
  list: string;
  /** What a new row begins as. */
  fresh: (count: number) => object;
  add: string;
  /** Fewer rows than this there cannot be. */
  least?: number;
  /** One line a row, or as many as the fields need. */
  wrapped?: boolean;
  children: (path: string, index: number) => ReactNode;
  /** Beside the button that adds. */
  foot?: ReactNode;
}

export function ListOf({ list, fresh, add, least = 0, wrapped, children, foot }: Props) {
  const { session } = useBench();
  const count = usePick((v) => ((getAt(v.design, list) as unknown[] | undefined) ?? []).length);
  const most = useMost(list);
  const design = () => session.get().design;
  const named = (i: number) =>
    (getAt(design(), `${list}.${i}.label`) as string | undefined) || `line ${i + 1}`;
  return (
    <>
      {Array.from({ length: count }, (_, i) => (
        <Fields key={i} as={wrapped ? "fields" : "row"}>
          {children(`${list}.${i}`, i)}
          <Act
            plain
            disabled={count <= least}
            aria-label={`Remove ${named(i)}`}
            onClick={() => session.setRows(without(design(), list, i))}
          >
            Remove
          </Act>
        </Fields>
      ))}
      <Line foot>
        <Act
          fast
          disabled={count >= most}
          onClick={() => session.setRows(inserted(design(), list, count, fresh(count)))}
        >
          {add}
        </Act>
        {foot}
      </Line>
    </>
  );
}
