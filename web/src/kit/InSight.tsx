/** A long list of which only what is in sight is drawn; a short one is drawn whole. */
import { useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { useVirtualizer } from "@tanstack/react-virtual";

const WHOLE = 100; // rows that are drawn without ado
const ROW_PX = 40;

interface Props<T> {
  rows: readonly T[];
  keyOf: (row: T) => string;
  children: (row: T) => ReactNode;
}

export function InSight<T>(props: Props<T>) {
  const { rows, keyOf, children } = props;
  if (rows.length > WHOLE) return <Long {...props} />;
  return rows.map((row) => <div key={keyOf(row)}>{children(row)}</div>);
}

function Long<T>({ rows, keyOf, children }: Props<T>) {
  "use no memo"; // React's compiler leaves alone what a library changes under its hands

  const list = useRef<HTMLDivElement>(null);
  const [margin, setMargin] = useState(0);
  const scroller = () => list.current?.closest<HTMLElement>("[tabindex='-1']") ?? null;
  useLayoutEffect(() => {
    const [top, within] = [list.current?.getBoundingClientRect().top, scroller()];
    if (top !== undefined && within) setMargin(top - within.getBoundingClientRect().top + within.scrollTop);
  }, []);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: scroller,
    estimateSize: () => ROW_PX,
    getItemKey: (i) => keyOf(rows[i]!),
    scrollMargin: margin,
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  const above = (shown[0]?.start ?? margin) - margin;
  const below = virtual.getTotalSize() - ((shown.at(-1)?.end ?? margin) - margin);
  return (
    <div ref={list} data-rows={rows.length}>
      <Space px={above} />
      {shown.map((item) => (
        <div key={item.key} data-index={item.index} ref={virtual.measureElement}>
          {children(rows[item.index]!)}
        </div>
      ))}
      <Space px={below} />
    </div>
  );
}

/** The room of what is not drawn. */
function Space({ px }: { px: number }) {
  return <div aria-hidden="true" ref={(at) => at?.style.setProperty("height", `${Math.max(0, px)}px`)} />;
}
