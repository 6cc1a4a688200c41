/** The Belt step: everything about a belt is settled here before anything is cut. */
import { lazy, Suspense, useState } from "react";
import { useLocation } from "react-router";
import type { BeltPlan } from "../../api/client";
import { useBeltPlan, useNumbers, usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { Folded } from "../../fields/Folded";
import { NumberField } from "../../fields/NumberField";
import { Cautions } from "../Cautions";
import { EndForm } from "../Cones";
import { PartForm } from "../PartForm";
import { TablesOf } from "../TablesOf";
import { PartPicker } from "../PartPicker";
import { Bores } from "./Bores";
import { Brackets } from "./Brackets";
import { ClosedBelt } from "./ClosedBelt";
import { Lengths } from "./Lengths";
import { Line } from "./Line";
import { Path } from "./Path";
import { Tensioner } from "./Tensioner";
import { Running } from "./Running";
import { Fetched, Stale } from "../../kit/Fetched";
import { Guard } from "../../kit/Guard";
import { Notice } from "../../kit/Notice";
import { Cols, Fields, Figs, Sheet } from "../../kit/sheets";
import css from "./belt.module.css";

const Out = lazy(() => import("./Out"));

export default function Belt() {
  const design = usePick((v) => v.design);
  const planned = useBeltPlan();
  const plan = planned.data;
  const open = usePick((v) => "tensioner" in v.design.end);
  const { hash } = useLocation();
  const closed = usePick((v) =>
    v.design.chain
      .map((s, i) => ("belt_teeth" in (s as object) ? `chain.${i}` : ""))
      .filter(Boolean)
      .join(" "),
  );
  const [chosen, setChosen] = useState(open ? ("idler" in design.end ? "end.idler" : "end.pulley") : "");
  const wanted = owner(plan, hash.slice(1)) ?? chosen;
  const sections = [
    ["path", "Path"],
    ["length", "Length"],
    ...(open ? [["tension", "Tension"]] : []),
    ...(closed ? [["closed", "Closed belts"]] : []),
    ...(plan?.belts.length
      ? [
          ["line", "Belt line"],
          ["running", "Running true"],
          ["brackets", "Brackets"],
          ["bores", "Bores"],
        ]
      : []),
    ["out", "Take out"],
  ] as const;
  return (
    <>
      <nav className={`${css.index} no-print`} aria-label="Parts of the Belt step">
        {sections.map(([id, name]) => (
          <a
            key={id}
            href={`#sec-${id}`}
            onClick={(e) => {
              e.preventDefault();
              document.getElementById(`sec-${id}`)?.scrollIntoView();
            }}
          >
            {name}
          </a>
        ))}
      </nav>
      <Fetched of={planned} what="what Belt settles" waiting={null}>
        {(found) => <Misfits plan={found} />}
      </Fetched>
      <Stale when={planned.isPlaceholderData}>
        <div id="sec-path" className={css.section}>
          <Path plan={plan} chosen={wanted} choose={setChosen} />
        </div>
        {open && (
          <Sheet title="Where things stand">
            <PartForm path="end" nested={false} without={["slot_mm", "slot_deep_mm"]} />
            <Figs>
              <Figure of="loop.centre" digits={6} />
              <Figure of="pulley.wrap" />
              <Figure of="idler.wrap" />
              <Figure of="pulley.mesh" label="Teeth in mesh, drive pulley" />
            </Figs>
          </Sheet>
        )}
        <div id="sec-length" className={css.section}>
          <Lengths plan={plan} />
        </div>
        {open && (
          <Sheet title="Belt" aside={<PartPicker path="end.belt" />}>
            <PartForm path="end.belt" without={["tension_n", "calibrated_at_n"]} />
            <Figs>
              <Figure of="belt.ea" label="Stiffness EA" />
              <Figure of="belt.line_mass" label="Mass of a metre" />
              <Figure of="belt.pull_capacity" label="Its teeth carry" />
              <Figure of="belt.peak_force" label="Largest pull" />
              <Figure of="belt.peak_tension" label="Largest tension" />
            </Figs>
          </Sheet>
        )}
        {open && (
          <div id="sec-tension" className={css.section}>
            <Tension />
            <Tensioner plan={plan?.tensioner ?? null} />
            <Sheet
              title="Belt ends"
              note="what they hold is common practice without a source: try it with weights"
            >
              <PartForm path="end.clamp" without={["line_mm"]} />
              <Figs>
                <Figure of="clamp.pull" label="Each end holds" />
              </Figs>
            </Sheet>
          </div>
        )}
        {closed && (
          <div id="sec-closed" className={css.section}>
            {closed.split(" ").map((at) => (
              <ClosedBelt key={at} at={at} plan={plan?.closed.find((c) => c.at === at)} />
            ))}
          </div>
        )}
        {plan && plan.belts.length > 0 && (
          <>
            <div id="sec-line" className={css.section}>
              <Line plan={plan} />
            </div>
            <div id="sec-running" className={css.section}>
              <Running plan={plan} open={open} />
            </div>
            <div id="sec-brackets" className={css.section}>
              <Brackets plan={plan} open={open} />
            </div>
            <div id="sec-bores" className={css.section}>
              <Bores plan={plan} />
            </div>
          </>
        )}
        {!open && (
          <Sheet title="The end of the chain">
            <EndForm />
          </Sheet>
        )}
        <TablesOf step="belt" />
        <div id="sec-out" className={css.section}>
          <Guard what="“Take out”">
            <Suspense fallback={null}>{plan && <Out plan={plan} />}</Suspense>
          </Guard>
        </div>
      </Stale>
      <Cautions step="belt" />
    </>
  );
}

/** The part of the path whose field a rung leads to. */
function owner(plan: BeltPlan | undefined, field: string): string | undefined {
  if (!plan || !field) return undefined;
  return plan.belts
    .flatMap((b) => b.wheels.map((w) => w.part))
    .filter((p) => `${field}.`.startsWith(`${p}.`))
    .sort((a, b) => b.length - a.length)[0];
}

function Misfits({ plan }: { plan: BeltPlan }) {
  const { show } = useNumbers();
  const off = plan.misfits.filter((m) => !m.fits);
  if (off.length === 0) return null;
  const made = (value: number, unit: string) => show(value, unit, 5).said;
  return (
    <Notice title="Already made, and no longer right" data-misfits>
      {off.map((m) => `${m.label}, made at ${made(m.made, m.unit)}: ${m.says}`).join(" · ")}.
    </Notice>
  );
}

function Tension() {
  return (
    <Sheet title="Tension" note="the largest of what the load, the teeth and the sag ask for">
      <Cols as="second" tight>
        <div>
          <Fields>
            <NumberField path="end.belt.tension_n" placeholder="target" />
          </Fields>
          <Folded title="Steps were calibrated" paths={["end.belt.calibrated_at_n"]}>
            <NumberField path="end.belt.calibrated_at_n" />
          </Folded>
        </div>
        <Figs>
          <Figure of="tension.needed" label="To stay taut" />
          <Figure of="tension.floor" label="To seat the teeth" />
          <Figure of="tension.sag" label="Against sag" />
          <Figure of="tension.warmth" label="Warmth, either way" />
          <Figure of="tension.target" />
          <Figure of="tension.low" label="Lower end" />
          <Figure of="tension.high" label="Upper end" />
          <Figure of="belt.scale_shift" label="Steps per mm shift by" />
        </Figs>
      </Cols>
    </Sheet>
  );
}
