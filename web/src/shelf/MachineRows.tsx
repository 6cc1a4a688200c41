/** One machine on the shelf: its axes, a line each, with verdict, money and the last entry of the log. */
import { useState } from "react";
import { Link } from "react-router";
import type { ShelfAxis, ShelfMachine } from "../api/client";
import { SceneSketch } from "../drawing/SceneSketch";
import { afterMark, VerdictMark } from "../frame/verdict";
import { Act } from "../kit/Act";
import { about, counted } from "../units/format";
import { NewAxis, Rename } from "./Making";
import css from "./shelf.module.css";

export function MachineRows({
  machine,
  takeOff,
}: {
  machine: ShelfMachine;
  takeOff: (path: string, name: string) => void;
}) {
  const [adding, setAdding] = useState(false);
  const [naming, setNaming] = useState(false);
  return (
    <section className={css.machine} aria-label={machine.name}>
      <header className={css.head}>
        <h2>
          <Link to={`/machine/${machine.id}`}>{machine.name}</Link>
        </h2>
        <span className="quiet small">{machine.note}</span>
        <Sums machine={machine} />
        <span className={css.acts}>
          <Act onClick={() => setAdding(true)}>Add an axis</Act>
          <Act plain onClick={() => setNaming(true)}>
            Rename
          </Act>
          <Act
            plain
            aria-label={`Take ${machine.name} off the shelf`}
            onClick={() => takeOff(`/machines/${machine.id}`, machine.name)}
          >
            Take off the shelf
          </Act>
        </span>
      </header>
      {machine.axes.length === 0 && (
        <p className={css.none}>No axis yet. Add the first one: give it a name, then say what it is for.</p>
      )}
      {machine.axes.map((a) => (
        <AxisRow key={a.id} axis={a} takeOff={() => takeOff(`/axes/${a.id}`, a.name)} />
      ))}
      <Rename key={String(naming)} machine={machine} opened={naming} close={() => setNaming(false)} />
      <NewAxis machine={machine} opened={adding} close={() => setAdding(false)} />
    </section>
  );
}

/** What a machine costs in all; nothing where it has one axis alone, whose line says it. */
function Sums({ machine: { sums, axes } }: { machine: ShelfMachine }) {
  if (axes.length < 2) return null;
  const left = sums.left_out > 0 ? `, without ${counted(sums.left_out, "axis", "axes")}` : "";
  const open = sums.unpriced > 0 ? `, ${sums.unpriced} unpriced` : "";
  return (
    <span className={css.sums} data-sums>
      {sums.total === null ? (
        sums.currency && `in several currencies: ${sums.currency}`
      ) : (
        <>
          <span className="num">{about(sums.total, sums.currency, sums.about)}</span> in all,{" "}
          <span className="num">{about(sums.spend, sums.currency, sums.about)}</span> to spend
          {open}
          {left}
        </>
      )}
    </span>
  );
}

function AxisRow({ axis, takeOff }: { axis: ShelfAxis; takeOff: () => void }) {
  return (
    <div className={css.line} data-axis-line>
      <Link className={css.row} to={`/axis/${axis.id}/aim`}>
        <span className={css.name}>{axis.name}</span>
        <span>{axis.scene && <SceneSketch scene={axis.scene} q={axis.scene.travel_mm / 2} />}</span>
        <span>
          <VerdictMark verdict={axis.verdict} /> <span className={css.says}>{afterMark(axis.in_words)}</span>
        </span>
        <span className="small">
          {axis.verdict.startsWith("cannot") ? (
            <span className="quiet">not counted</span>
          ) : (
            <>
              <span className="num">
                {axis.total === null ? "–" : about(axis.total, axis.currency, axis.about)}
              </span>{" "}
              in all
              <br />
              <span className="quiet">
                {axis.spend ? (
                  <>
                    <span className="num">{about(axis.spend, axis.currency, axis.typical > 0)}</span> to spend
                  </>
                ) : (
                  "nothing to spend"
                )}
                {axis.unpriced > 0 ? `, ${axis.unpriced} unpriced` : ""}
              </span>
            </>
          )}
        </span>
        <span className="small quiet">
          {axis.last_log ? (
            <>
              <span className="num">{axis.last_log.on_date}</span> {short(axis.last_log.says)}
            </>
          ) : (
            "nothing in the log"
          )}
        </span>
      </Link>
      <Act plain aria-label={`Take ${axis.name} off the shelf`} onClick={takeOff}>
        Take off
      </Act>
    </div>
  );
}

/** A log line cut at a word. */
function short(says: string, longest = 58): string {
  return says.length <= longest ? says : `${says.slice(0, longest).replace(/\s+\S*$/, "")}…`;
}
