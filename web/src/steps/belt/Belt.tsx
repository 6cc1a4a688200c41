/** The Belt step: everything about a belt is settled here before anything is cut. */
import { lazy, Suspense, useState } from "react";
import { useLocation } from "react-router";
import type { BeltPlan } from "../../api/client";
import { useBeltPlan } from "../../api/queries";
import { useNumbers, usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { NumberField } from "../../fields/NumberField";
import { Cautions } from "../Cautions";
import { PartForm } from "../PartForm";
import { PartPicker } from "../PartPicker";
import { Bores } from "./Bores";
import { Brackets } from "./Brackets";
import { ClosedBelt } from "./ClosedBelt";
import { Lengths } from "./Lengths";
import { Line } from "./Line";
import { Path } from "./Path";
import { Tensioner } from "./Tensioner";
import { Running } from "./Running";

const Out = lazy(() => import("./Out"));

export default function Belt() {
  const design = usePick((v) => v.design);
  const ready = usePick((v) => !v.stale);
  const plan = useBeltPlan(design, ready).data;
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
      <nav className="index no-print" aria-label="Parts of the Belt step">
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
      <Misfits plan={plan} />
      <div id="sec-path">
        <Path plan={plan} chosen={wanted} choose={setChosen} />
      </div>
      {open && (
        <section className="sheet">
          <h2>Where things stand</h2>
          <PartForm path="end" nested={false} without={["slot_mm"]} />
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="loop.centre" digits={6} />
            <Figure of="pulley.wrap" />
            <Figure of="idler.wrap" />
            <Figure of="pulley.mesh" label="Teeth in mesh, drive pulley" />
          </div>
        </section>
      )}
      <div id="sec-length">
        <Lengths plan={plan} />
      </div>
      {open && (
        <section className="sheet">
          <h2>
            Belt
            <span style={{ marginLeft: "auto" }}>
              <PartPicker path="end.belt" />
            </span>
          </h2>
          <PartForm path="end.belt" without={["tension_n", "calibrated_at_n"]} />
          <div className="figs" style={{ marginTop: 12 }}>
            <Figure of="belt.ea" label="Stiffness EA" />
            <Figure of="belt.line_mass" label="Mass of a metre" />
            <Figure of="belt.pull_capacity" label="Its teeth carry" />
            <Figure of="belt.peak_force" label="Largest pull" />
            <Figure of="belt.peak_tension" label="Largest tension" />
          </div>
        </section>
      )}
      {open && (
        <div id="sec-tension">
          <Tension />
          <Tensioner plan={plan?.tensioner ?? null} />
          <section className="sheet">
            <h2>
              Belt ends{" "}
              <span className="quiet">
                what they hold is common practice without a source: try it with weights
              </span>
            </h2>
            <PartForm path="end.clamp" without={["line_mm"]} />
            <div className="figs" style={{ marginTop: 10 }}>
              <Figure of="clamp.pull" label="Each end holds" />
            </div>
          </section>
        </div>
      )}
      {closed && (
        <div id="sec-closed">
          {closed.split(" ").map((at) => (
            <ClosedBelt key={at} at={at} plan={plan?.closed.find((c) => c.at === at)} />
          ))}
        </div>
      )}
      {plan && plan.belts.length > 0 && (
        <>
          <div id="sec-line">
            <Line plan={plan} />
          </div>
          <div id="sec-running">
            <Running plan={plan} open={open} />
          </div>
          <div id="sec-brackets">
            <Brackets plan={plan} open={open} />
          </div>
          <div id="sec-bores">
            <Bores plan={plan} />
          </div>
        </>
      )}
      {!open && (
        <section className="sheet">
          <h2>The end of the chain</h2>
          <PartForm path="end" without={["motor_line_mm", "middle_line_mm", "spindle_line_mm"]} />
        </section>
      )}
      <div id="sec-out">
        <Suspense fallback={null}>{plan && <Out plan={plan} />}</Suspense>
      </div>
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

function Misfits({ plan }: { plan: BeltPlan | undefined }) {
  const { show } = useNumbers();
  const off = plan?.misfits.filter((m) => !m.fits) ?? [];
  if (off.length === 0) return null;
  return (
    <div className="banner" role="alert" data-misfits>
      <p>
        <b>Already made, and no longer right:</b>{" "}
        {off
          .map(
            (m) =>
              `${m.label}, made at ${show(m.made, m.unit, 5).text} ${show(m.made, m.unit, 5).unit}: ${m.says}`,
          )
          .join(" · ")}
        .
      </p>
    </div>
  );
}

function Tension() {
  return (
    <section className="sheet">
      <h2>
        Tension <span className="quiet">keeps both runs taut over the whole travel, both ways</span>
      </h2>
      <div style={{ display: "grid", gridTemplateColumns: "150px 150px 1fr", gap: 18, alignItems: "start" }}>
        <NumberField path="end.belt.tension_n" placeholder="target" />
        <NumberField path="end.belt.calibrated_at_n" />
        <div className="figs">
          <Figure of="tension.target" />
          <Figure of="tension.low" label="Lower end" />
          <Figure of="tension.high" label="Upper end" />
          <Figure of="belt.scale_shift" label="Steps per mm shift by" />
        </div>
      </div>
    </section>
  );
}
