/** Everything inside one axis: header, the seven steps, the ladder beside them, keys and commands. */
import {
  lazy,
  memo,
  Suspense,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";
import { NavLink, Navigate, useLocation, useNavigate, useParams } from "react-router";
import { useHotkeys, type HotkeyItem } from "@mantine/hooks";
import type { Report, Start } from "../api/client";
import { client, useAxis, useStart } from "../api/queries";
import { BenchProvider, useBench, useOtherUnits, usePick } from "../design/context";
import { Session, type Opened as OpenedAxis } from "../design/session";
import { Head } from "./Head";
import { AssumedHere } from "../fields/assumed";
import { Fetched, Waiting } from "../kit/Fetched";
import { Guard } from "../kit/Guard";
import { NotKept } from "../kit/Unsent";
import css from "./frame.module.css";
import { Ladder } from "./Ladder";
import { Plain } from "./Plain";
import { FoundDrafts, Saving, Unworked } from "./Saving";
import { Unreadable } from "./Unreadable";

const Aim = lazy(() => import("../steps/aim/Aim"));
const Drive = lazy(() => import("../steps/drive/Drive"));
const Belt = lazy(() => import("../steps/belt/Belt"));
const Shake = lazy(() => import("../steps/shake/Shake"));
const Build = lazy(() => import("../steps/build/Build"));
const Tune = lazy(() => import("../steps/tune/Tune"));
const Log = lazy(() => import("../steps/log/Log"));
const Commands = lazy(() => import("./Commands"));

export const STEPS = [
  { key: "aim", name: "Aim", Page: Aim },
  { key: "drive", name: "Drive", Page: Drive },
  { key: "belt", name: "Belt", Page: Belt },
  { key: "shake", name: "Shake", Page: Shake },
  { key: "build", name: "Build", Page: Build },
  { key: "tune", name: "Tune", Page: Tune },
  { key: "log", name: "Log", Page: Log },
] as const;

const LOOK_EVERY_MS = 60;
const LOOKS = 50;

export default function AxisPage() {
  const { id = "", step = "" } = useParams();
  const start = useStart();
  const axis = useAxis(id);
  if (!STEPS.some((s) => s.key === step)) return <Navigate to={`/axis/${id}/aim`} replace />;
  const there = axis.data !== undefined && start.data !== undefined;
  if (!there)
    return (
      <Plain>
        <Fetched of={(start.error ? start : axis) as typeof axis} what="this axis">
          {() => <Waiting>Laying it out…</Waiting>}
        </Fetched>
      </Plain>
    );
  if (!axis.data.design) return <Unreadable axis={axis.data} />;
  return <Opened key={id} axis={axis.data as OpenedAxis} start={start.data} step={step} />;
}

function Opened({ axis, start, step }: { axis: OpenedAxis; start: Start; step: string }) {
  const [session] = useState(() => new Session(axis, start.design_schema));
  useEffect(() => {
    const leave = () => void session.saveNow(true);
    window.addEventListener("pagehide", leave);
    void session.open();
    return () => {
      window.removeEventListener("pagehide", leave);
      void session.close().then(() => client.removeQueries({ queryKey: ["axis", axis.id] }));
    };
  }, [session, axis.id]);
  return (
    <BenchProvider session={session} start={start}>
      <Bench step={step} />
    </BenchProvider>
  );
}

function Bench({ step }: { step: string }) {
  const { session } = useBench();
  const id = usePick((v) => v.id);
  const name = usePick((v) => v.design.name);
  const outdated = usePick((v) => v.problems.length > 0 && v.report !== null);
  const navigate = useNavigate();
  const { hash } = useLocation();
  const work = useRef<HTMLElement>(null);
  const go = (to: string) => navigate(`/axis/${id}/${to}`);
  const typing = () =>
    (document.activeElement instanceof HTMLInputElement &&
      !["checkbox", "radio"].includes(document.activeElement.type)) ||
    document.activeElement instanceof HTMLTextAreaElement;
  const [more, setMore] = useState(false);
  const openCommands = useCallback(() => setMore(true), []);
  useHotkeys(
    [
      ...STEPS.map((s, i): [string, () => void] => [`alt+${i + 1}`, () => go(s.key)]),
      // A digit that is typed into a field stays a digit.
      ...STEPS.map((s, i): HotkeyItem => [
        `${i + 1}`,
        () => !typing() && go(s.key),
        { preventDefault: false },
      ]),
      ["mod+Z", (e) => (e.preventDefault(), session.undo())],
      ["mod+shift+Z", (e) => (e.preventDefault(), session.redo())],
      ["mod+Y", (e) => (e.preventDefault(), session.redo())],
      ["mod+S", (e) => (e.preventDefault(), void session.saveNow())],
      ["mod+K", (e) => (e.preventDefault(), setMore(true))],
    ],
    [],
  );
  useOtherUnits(() => void session.again());
  useEffect(() => {
    document.title = `${name} · Crisp Cadence`;
  }, [name]);
  useEffect(() => {
    // A rung leads to the field where it is decided.
    if (!hash) {
      work.current?.scrollTo({ top: 0 });
      return;
    }
    const wanted = CSS.escape(decodeURIComponent(hash.slice(1)));
    // The step, or the part that holds the field, may still be on its way.
    let tries = 0;
    const looking = setInterval(() => {
      const field = document.querySelector<HTMLElement>(`[data-path="${wanted}"]`);
      if (field || ++tries >= LOOKS) clearInterval(looking);
      for (let fold = field?.closest("details"); fold; fold = fold.parentElement?.closest("details"))
        fold.open = true;
      field?.scrollIntoView({ block: "center" });
      field?.focus();
    }, LOOK_EVERY_MS);
    return () => clearInterval(looking);
  }, [hash, step]);
  return (
    <Frame>
      <a className={css.skip} href="#work">
        To the step
      </a>
      <Head openCommands={openCommands} />
      <div className={css.bench}>
        <Steps />
        <main className={css.work} id="work" ref={work} tabIndex={-1} data-outdated={outdated}>
          <NotKept />
          <Saving />
          <FoundDrafts />
          <Unworked />
          <AssumedHere step={step} />
          <Guard what="This step" at={step}>
            <Sheet step={step} />
          </Guard>
        </main>
        <aside className={css.side} aria-label="Headroom">
          <Guard what="The ladder">
            <Ladder />
          </Guard>
        </aside>
      </div>
      {more && (
        <Suspense fallback={null}>
          <Commands go={go} close={() => setMore(false)} />
        </Suspense>
      )}
    </Frame>
  );
}

/** The page around an axis, busy while the report of its newest design is on its way; what stands in it is not drawn anew for that. */
function Frame({ children }: { children: ReactNode }) {
  const busy = usePick((v) => v.stale && v.problems.length === 0);
  return (
    <div className={css.frame} aria-busy={busy} data-bench>
      {children}
    </div>
  );
}

const Sheet = memo(function Sheet({ step }: { step: string }) {
  const { Page } = STEPS.find((s) => s.key === step)!;
  return (
    <Suspense fallback={<Waiting>Laying it out…</Waiting>}>
      <Page />
    </Suspense>
  );
});

function Steps() {
  const id = usePick((v) => v.id);
  const settle = usePick((v) => undecided(v.report));
  const open = useMemo(
    () => Object.fromEntries(settle.split(" ").map((s) => s.split(":"))) as Record<string, string>,
    [settle],
  );
  return (
    <nav className={css.steps} aria-label="Steps">
      {STEPS.map((s, i) => (
        <NavLink key={s.key} to={`/axis/${id}/${s.key}`}>
          <span className={css.place}>{i + 1}</span>
          {s.name}
          {open[s.key] && (
            <span className={css.open} title={`${open[s.key]} to settle here`}>
              {open[s.key]}
              <span className="hidden"> to settle here</span>
            </span>
          )}
        </NavLink>
      ))}
    </nav>
  );
}

/** How many rungs each step still has to settle, as "aim:1 belt:2": the same words where nothing has changed. */
function undecided(report: Report | null): string {
  const count: Record<string, number> = {};
  for (const r of report?.ladder ?? [])
    if ((r.verdict === "short" || r.verdict === "unknown") && !r.advisory)
      count[r.step] = (count[r.step] ?? 0) + 1;
  return Object.entries(count)
    .map(([step, n]) => `${step}:${n}`)
    .join(" ");
}
