import { lazy, Suspense, type ComponentProps } from "react";

const Plot = lazy(() => import("./LinePlot"));

export function LinePlot(props: ComponentProps<typeof Plot>) {
  return (
    <Suspense fallback={<div className="plot quiet small">Drawing…</div>}>
      <Plot {...props} />
    </Suspense>
  );
}
