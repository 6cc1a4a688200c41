/** What is measured once an axis stands: its belts, its parts one by one, its scale, what ripples. */
import { useNumbers, useView } from "../../design/context";
import type { BeltToRead, Design } from "../../api/client";
import { Fetched } from "../../kit/Fetched";
import { Cautions } from "../Cautions";
import { TablesOf } from "../TablesOf";
import { ClosedTarget, Measure, Pair, Target } from "./Belts";
import { Calibrate } from "./Calibrate";
import { useToMeasure } from "./measured";
import { Moves } from "./Moves";
import { Ripple } from "./Ripple";
import { Square } from "./Square";
import { Teach } from "./Teach";
import { Trials } from "./Trials";
import { Wheels } from "./Wheels";

/** Places in the chain where closed belts stand. */
const closedIn = (design: Design) => design.chain.flatMap((s, j) => (s.kind === "closed_belt" ? [j] : []));

/** Two belts that may differ by so much. */
const pairOf = (belts: readonly BeltToRead[]): readonly [BeltToRead, BeltToRead] | null => {
  const [one, other] = belts.filter((b) => b.apart_n !== null);
  return one && other ? [one, other] : null;
};

/** What an axis has not, its screen has not. */
export default function Tune() {
  const { report } = useNumbers();
  const { design } = useView();
  const toMeasure = useToMeasure();
  const closed = closedIn(design);
  const turned = design.end.kind === "spindle";
  return (
    <>
      {"belt" in design.end && <Target />}
      {closed.map((j, nth) => (
        <ClosedTarget key={j} stage={j} nth={closed.length > 1 ? nth + 1 : 0} />
      ))}
      {turned && <TablesOf step="tune" />}
      <Fetched of={toMeasure} what="what there is to measure">
        {({ belts, trials, scale, square, moves, telling, wheels, preload_drag_n }) => {
          const pair = pairOf(belts);
          return (
            <>
              <Measure belts={belts} />
              {pair && <Pair belts={pair} />}
              <Trials trials={trials} />
              <Teach telling={telling} />
              {square && <Square key={square.by} squaring={square} />}
              {scale && <Calibrate key={scale.sets} scale={scale} />}
              {report?.guided && <Wheels places={wheels} drag={preload_drag_n} />}
              {moves.length > 0 && <Moves kinds={moves} angle={scale?.commanded[0] === "angle"} />}
            </>
          );
        }}
      </Fetched>
      {!turned && <Ripple />}
      <Cautions step="tune" />
    </>
  );
}
