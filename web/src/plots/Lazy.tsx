/** A line plot; the library that draws it is fetched when the first one is shown. */
import { lazy, Suspense, type ComponentProps } from "react";
import { Guard } from "../kit/Guard";
import { Waiting } from "../kit/Fetched";

const Plot = lazy(() => import("./LinePlot"));

export const LinePlot = (props: ComponentProps<typeof Plot>) => (
  <Guard what="This plot">
    <Suspense fallback={<Waiting>Drawing…</Waiting>}>
      <Plot {...props} />
    </Suspense>
  </Guard>
);
