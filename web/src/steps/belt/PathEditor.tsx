/** One belt path to true scale: pulleys are dragged or moved by keys, spans and wraps are shown, impossible places are explained. */
import {
  useEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
  type KeyboardEvent,
  type PointerEvent,
} from "react";
import { useQuery } from "@tanstack/react-query";
import { ask, Refusal, type Design, type Problem, type Scene } from "../../api/client";
import { keyOf } from "../../api/queries";
import { useBench, usePick, useShow, useSystem } from "../../design/context";
import { getAt, setAt } from "../../design/path";
import { at, bounds, Shapes, type Frame } from "../../drawing/shapes";
import { moved, Newest } from "./follow";
import css from "../../drawing/drawing.module.css";
import { Paper, widthOf, type Label } from "../../drawing/labels";
import { linesOf } from "../../drawing/obstacles";
import { Labels } from "../../drawing/Words";
import { Act } from "../../kit/Act";
import { Pick, Slide } from "../../kit/inputs";
import { Notice } from "../../kit/Notice";
import { capital } from "../../units/words";

const WIDTH = 860;
const EDGE = 34;

interface Question {
  changes: Record<string, number>;
  stamp: number;
}
interface Drawn {
  scenes: Scene[];
  stamp: number;
}

/** How large the drawing is against the whole of it, and what is in its middle (the middle of the whole unless moved). */
interface View {
  zoom: number;
  x?: number;
  y?: number;
}
const zoomed = (v: View, by: number): View => ({ ...v, zoom: Math.min(200, Math.max(0.5, v.zoom * by)) });

const withChanges = (design: Design, changes: Record<string, unknown>) =>
  Object.entries(changes).reduce((d, [path, value]) => setAt(d, path, value), design);

const NONE: Scene[] = [];

/** The drawings of the design: they come with its report; where that is refused, a path may still be drawn. */
export function usePaths() {
  const design = usePick((v) => v.design);
  const drawn = usePick((v) => v.drawings);
  const refused = usePick((v) => v.problems.length > 0);
  const alone = useQuery({
    queryKey: ["path", keyOf(design)],
    queryFn: ({ signal }) => ask<Scene[]>("/path", { body: design, signal }),
    enabled: refused,
    staleTime: Infinity,
    gcTime: 30_000,
    retry: false,
    retryOnMount: false, // an editor that comes because of a failure must not ask again by coming
  });
  return {
    data: (refused ? alone.data : null) ?? drawn ?? NONE,
    error: refused ? alone.error : null,
    refetch: alone.refetch,
  };
}

export function PathEditor({
  place,
  chosen,
  choose,
  tallest = 300,
}: {
  place: number;
  chosen: string;
  choose: (part: string) => void;
  tallest?: number;
}) {
  const { session } = useBench();
  const show = useShow();
  const [system] = useSystem();
  const paths = usePaths();
  const [live, setLive] = useState<Drawn | null>(null);
  const [trouble, setTrouble] = useState<Problem[]>([]);
  const [says, setSays] = useState("");
  const [share, setShare] = useState(0.35);
  const [plane, setPlane] = useState(-1);
  const [view, setView] = useState<View>({ zoom: 1 });
  const svg = useRef<SVGSVGElement>(null);
  const hold = useRef<{
    wheel: Scene["wheels"][number];
    x: number;
    y: number;
    last: Record<string, number>;
  } | null>(null);
  const pan = useRef<{ x: number; y: number; cx: number; cy: number } | null>(null);

  const newest = useMemo(
    () =>
      new Newest<Question, Scene[]>(
        (q) => ask<Scene[]>("/path", { body: withChanges(session.get().design, q.changes) }),
        (scenes, q, problems) => {
          setTrouble(problems);
          if (scenes) setLive({ scenes, stamp: q.stamp });
        },
      ),
    [session],
  );

  // What was dragged stays where it was dropped until it comes back drawn.
  useEffect(() => setLive(null), [paths.data]);

  const listed = (live?.scenes ?? paths.data).filter((s) => s.strands.length > 0);
  const whole = listed[place];
  const planes = whole ? Math.max(...whole.strands.map((s) => s.plane)) + 1 : 1;
  const scene =
    whole && plane >= 0 && planes > 1
      ? {
          ...whole,
          wheels: whole.wheels.filter((w) => w.plane === plane),
          strands: whole.strands.filter((s) => s.plane === plane),
        }
      : whole;
  const refused = paths.error instanceof Refusal ? paths.error.problems : [];
  const problems = trouble.length ? trouble : live ? [] : refused;

  const there = scene !== undefined;
  useEffect(() => {
    // Zooming with the wheel only while Ctrl is held: else the page scrolls as everywhere.
    const drawing = svg.current;
    if (!drawing) return;
    const wheel = (e: WheelEvent) => {
      if (!e.ctrlKey && !e.metaKey) return;
      e.preventDefault();
      setView((v) => zoomed(v, e.deltaY < 0 ? 1.25 : 0.8));
    };
    drawing.addEventListener("wheel", wheel, { passive: false });
    return () => drawing.removeEventListener("wheel", wheel);
  }, [there]);

  if (!scene) return problems.length ? <Trouble problems={problems} /> : null;

  const box = bounds(scene);
  // As tall as the path needs over the whole width, within reason; a long flat axis leaves no empty sheet.
  const height = Math.round(
    Math.min(
      tallest,
      Math.max(
        view.zoom > 1 ? 240 : 150,
        ((box.high - box.low) * (WIDTH - 2 * EDGE)) / Math.max(box.right - box.left, 1) + 2 * EDGE + 24,
      ),
    ),
  );
  const fit = Math.min(
    (WIDTH - 2 * EDGE) / Math.max(box.right - box.left, 1),
    (height - 2 * EDGE) / Math.max(box.high - box.low, 1),
  );
  const k = fit * view.zoom;
  const cx = view.x ?? (box.left + box.right) / 2;
  const cy = view.y ?? (box.low + box.high) / 2;
  const f: Frame = { k, left: cx - WIDTH / 2 / k, top: cy + height / 2 / k };
  const q = share * scene.travel_mm;
  const zoomBy = (by: number) => setView((v) => zoomed(v, by));
  const length = (mm: number, digits = 4) => show(mm, "mm", digits).said;
  const toScene = (e: PointerEvent): [number, number] => {
    const seen = svg.current!.getBoundingClientRect();
    return [
      ((e.clientX - seen.left) * WIDTH) / seen.width / k + f.left,
      f.top - ((e.clientY - seen.top) * height) / seen.height / k,
    ];
  };

  const grab = (e: PointerEvent<SVGGElement>, wheel: Scene["wheels"][number]) => {
    choose(wheel.part);
    if (wheel.handles.length === 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    const [x, y] = toScene(e);
    hold.current = { wheel, x, y, last: {} };
  };
  const drag = (e: PointerEvent) => {
    if (hold.current) {
      const [x, y] = toScene(e);
      const step = e.altKey ? 0 : system === "metric" ? 1 : 25.4 / 32;
      const got = moved(hold.current.wheel.handles, x - hold.current.x, y - hold.current.y, {
        step,
        reach: e.altKey ? 0 : Math.min(7 / k, 3),
      });
      hold.current.last = got.changes;
      setSays(got.says.join(", "));
      void newest.ask({ changes: got.changes, stamp: e.timeStamp });
    } else if (pan.current) {
      const seen = svg.current!.getBoundingClientRect();
      const per = WIDTH / seen.width / k;
      setView({
        zoom: view.zoom,
        x: pan.current.cx - (e.clientX - pan.current.x) * per,
        y: pan.current.cy + (e.clientY - pan.current.y) * per,
      });
    }
  };
  const drop = async () => {
    pan.current = null;
    const held = hold.current;
    hold.current = null;
    newest.stop();
    if (!held || Object.keys(held.last).length === 0) return;
    const wanted = withChanges(session.get().design, held.last);
    try {
      const scenes = await ask<Scene[]>("/path", { body: wanted });
      session.setAll(held.last);
      setLive((was) => was && { ...was, scenes });
      setTrouble([]);
    } catch (error) {
      if (error instanceof Refusal)
        setTrouble(error.problems.map((p) => ({ ...p, message: `${p.message}. It stays where it was` })));
      setLive(null);
    }
    setSays("");
  };
  const key = (e: KeyboardEvent, wheel: Scene["wheels"][number]) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!way || wheel.handles.length === 0) return;
    e.preventDefault();
    const by = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
    // From the number as it stands, not as it was drawn: keys come faster than drawings.
    const design = session.get().design;
    const handles = wheel.handles.map((h) => ({
      ...h,
      value: (getAt(design, h.field) as number | null | undefined) ?? h.value,
    }));
    const got = moved(handles, way[0]! * by, way[1]! * by, { step: 0, reach: 0 });
    if (Object.keys(got.changes).length) {
      setTrouble([]);
      session.setAll(got.changes, `${wheel.part} by keys`);
    }
  };
  const seen = new Set<string>();
  const words = live ? [] : wordsOf(scene, f, q, height, length);
  return (
    <figure>
      <svg
        ref={svg}
        className={`${css.drawing} ${css.path}`}
        data-path-drawing
        data-drawn={live?.stamp ?? ""}
        viewBox={`0 0 ${WIDTH} ${height}`}
        style={{ "--shape": `${WIDTH} / ${height}` } as CSSProperties}
        role="group"
        aria-label={`${scene.title}: the belt's path, to scale`}
        onPointerDown={(e) => {
          pan.current = { x: e.clientX, y: e.clientY, cx, cy };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={drag}
        onPointerUp={() => void drop()}
        onPointerCancel={() => {
          hold.current = null;
          pan.current = null;
          newest.stop();
          setLive(null);
        }}
      >
        <Shapes scene={scene} f={f} q={q} thin={live !== null} />
        {[...scene.wheels]
          .sort((a, b) => Math.sign(a.handles.length) - Math.sign(b.handles.length))
          .map((w, i) => {
            // What can be dragged lies above what cannot.
            const [x, y] = at(f, w.at, q);
            const { r } = ringOf(w, f, q);
            const on = w.part !== "" && w.part === chosen;
            const first = !seen.has(w.part);
            seen.add(w.part);
            const bad = problems.some((p) => w.part && p.field.startsWith(w.part));
            return (
              <g
                key={i}
                className={w.handles.length ? css.held : ""}
                data-held={w.handles.length > 0 || undefined}
                tabIndex={0}
                role="button"
                aria-pressed={on}
                data-wheel={first ? w.part : undefined}
                aria-label={`${w.name}${w.handles.length ? ", drag it or move it with the arrow keys" : ""}`}
                onFocus={() => choose(w.part)}
                onKeyDown={(e) => key(e, w)}
                onPointerDown={(e) => grab(e, w)}
              >
                <circle
                  cx={x}
                  cy={y}
                  r={r}
                  fill="transparent"
                  stroke={bad ? "var(--signal)" : on ? "var(--ink)" : "transparent"}
                  strokeWidth={bad ? 3 : 1.3}
                  strokeDasharray={bad ? undefined : "3 3"}
                />
              </g>
            );
          })}
        <Labels of={words} />
      </svg>
      <figcaption className={css.bar}>
        <span className={css.tools}>
          <Act onClick={() => zoomBy(1.5)} aria-label="Larger">
            +
          </Act>
          <Act onClick={() => zoomBy(1 / 1.5)} aria-label="Smaller">
            −
          </Act>
          <Act onClick={() => setView({ zoom: 1 })}>Whole</Act>
          {planes > 1 && (
            <Pick
              bare
              label="Planes shown"
              value={String(plane)}
              options={[
                { value: "-1", label: "both planes" },
                ...Array.from({ length: planes }, (_, i) => ({
                  value: String(i),
                  label: `plane ${i + 1} alone`,
                })),
              ]}
              onValue={(v) => setPlane(Number(v))}
            />
          )}
          {scene.wheels
            .filter((w, i, all) => all.findIndex((o) => o.part === w.part) === i)
            .slice(0, 6)
            .map((w) => (
              <Act
                key={w.part}
                aria-pressed={w.part === chosen}
                onClick={() => {
                  choose(w.part);
                  setView({
                    zoom: Math.max(1, Math.min(WIDTH / 8 / (w.outside_mm * 2 * fit), 60)),
                    x: w.at.x_mm + q * w.at.dx,
                    y: w.at.y_mm + q * w.at.dy,
                  });
                }}
              >
                {w.name}
              </Act>
            ))}
        </span>
        <span className="quiet">
          {says ? (
            <b>{says}</b>
          ) : scene.wheels.some((w) => w.handles.length) ? (
            "Drag a pulley, or arrow keys (Shift ten times, Alt a tenth); Ctrl and wheel to zoom"
          ) : (
            scene.title
          )}
        </span>
        {scene.travel_mm > 0 && (
          <Slide
            label={scene.point || "turn"}
            share={share}
            onShare={setShare}
            says={scene.point && <b className="num">{length(q)}</b>}
          />
        )}
      </figcaption>
      {problems.length > 0 && <Trouble problems={problems} />}
    </figure>
  );
}

function Trouble({ problems }: { problems: Problem[] }) {
  return (
    <Notice title="That cannot be" data-trouble>
      {problems.map((p, i) => (
        <p key={i}>
          <b>{capital(p.message)}.</b> {p.remedy}
        </p>
      ))}
    </Notice>
  );
}

const SHORT = 74; // a span of fewer units on the page is not labelled

/** The ring about a wheel by which it is grabbed, and seen to be chosen. */
function ringOf(w: Scene["wheels"][number], f: Frame, q: number) {
  const [x, y] = at(f, w.at, q);
  return { x, y, r: Math.max(w.outside_mm * f.k + 3, 11) };
}

/** Names of the wheels and lengths of the straight pieces, clear of the belt and of one another. */
function wordsOf(
  scene: Scene,
  f: Frame,
  q: number,
  height: number,
  length: (mm: number, digits?: number) => string,
): Label[] {
  const paper = new Paper(
    { left: 2, right: WIDTH - 2, top: 2, bottom: height - 2 },
    linesOf(scene, f, q),
    scene.wheels.map((w) => ringOf(w, f, q)),
  );
  const inSight = (x: number, y: number) => x > 0 && x < WIDTH && y > 0 && y < height;
  const names = scene.wheels.map((w) => {
    const [x, y] = at(f, w.at, q);
    return inSight(x, y) ? paper.beside(w.name, 11, ringOf(w, f, q)) : null;
  });
  const spans = scene.strands
    .flatMap((s) => s.pieces)
    .map((p) => {
      const [x0, y0] = at(f, p.start, q);
      const [x1, y1] = at(f, p.stop, q);
      const long = Math.hypot(x1 - x0, y1 - y0);
      if (p.radius_mm > 0 || long < SHORT) return null;
      const now = Math.hypot(
        p.stop.x_mm - p.start.x_mm + q * (p.stop.dx - p.start.dx),
        p.stop.y_mm - p.start.y_mm + q * (p.stop.dy - p.start.dy),
      );
      const text = length(now);
      const steep = Math.abs(y1 - y0) > Math.abs(x1 - x0);
      const aside = steep ? widthOf(text, 10.5) / 2 + 6 : 11;
      const places = [0.5, 0.35, 0.65, 0.2, 0.8].flatMap((share) =>
        [-1, 1].map((side) => {
          const x = x0 + (x1 - x0) * share - (side * aside * (y1 - y0)) / long;
          const y = y0 + (y1 - y0) * share + (side * aside * (x1 - x0)) / long;
          return [x, y] as const;
        }),
      );
      return paper.at(text, 10.5, places);
    });
  return [...names, ...spans].filter((l) => l !== null);
}
