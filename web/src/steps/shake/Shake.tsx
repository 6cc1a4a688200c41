/** What gives, how it rings, and what that costs in error. */
import { useNumbers, useScale, usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { stacked } from "../../drawing/stack";
import { LinePlot } from "../../plots/Lazy";
import { useGo } from "../../design/go";
import { number } from "../../units/format";
import { Cautions } from "../Cautions";
import { TablesOf } from "../TablesOf";
import { Act } from "../../kit/Act";
import { Acts, Cols, Figs, Num, Sheet, Table } from "../../kit/sheets";

/** A share in per cent; what is under a tenth of one is said so. */
const percent = (share: number) => (share < 0.001 ? "< 0.1 %" : `${(share * 100).toFixed(1)} %`);

const PATTERNS = [
  "var(--ink)",
  "url(#share-a)",
  "url(#share-b)",
  "url(#share-c)",
  "var(--metal)",
  "var(--faint)",
];

export default function Shake() {
  return (
    <>
      <Shares />
      <Sheet title="What that costs">
        <Figs>
          <Figure of="error.whip" />
          <Figure of="error.lost" />
          <Figure of="error.push" />
          <Figure of="error.sag" />
          <Figure of="lag" label="Rotor lag at the carriage" />
          <Figure of="backlash" label="Backlash" />
        </Figs>
      </Sheet>
      <Along />
      <Sheet title="How it rings">
        <Figs>
          <Figure of="mode.low" label="Rings at, lowest" />
          <Figure of="mode.high" label="Second mode" />
          <Figure of="mode.speed" label="Avoid staying at" />
          <Figure of="stiffness.min" label="Softest place" />
          <Figure of="stiffness.max" label="Stiffest place" />
          <Figure of="belt.tooth_frequency" label="Tooth frequency" />
        </Figs>
        <p className="small quiet">
          Rotor on its magnetic spring, load on the chain's. Masses of pulleys and gearbox are counted with
          the rotor.
        </p>
      </Sheet>
      <TablesOf step="shake" />
      <Cautions step="shake" />
    </>
  );
}

function Shares() {
  const { report } = useNumbers();
  const go = useGo();
  const shares = report?.shares ?? [];
  if (shares.length === 0) {
    const lacks = [...new Set(report?.results.find((q) => q.key === "stiffness.min")?.missing ?? [])].join(
      ", ",
    );
    return (
      <Sheet title="What gives">
        <p className="quiet">
          {lacks
            ? `Unknown: it lacks ${lacks}.`
            : "Nothing in this chain is known to give; it turns in place."}
        </p>
      </Sheet>
    );
  }
  const starts = stacked(shares.map((s) => s.share));
  return (
    <Sheet title="What gives" note="the softest first; a change there brings most">
      <svg
        viewBox="0 0 1000 34"
        width="100%"
        height="34"
        preserveAspectRatio="none"
        role="img"
        aria-label={shares.map((s) => `${s.label} ${number(s.share * 100, 2)} %`).join(", ")}
      >
        <defs>
          <pattern
            id="share-a"
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="7" height="7" fill="var(--sheet)" />
            <rect width="3" height="7" fill="var(--ink)" />
          </pattern>
          <pattern id="share-b" width="7" height="7" patternUnits="userSpaceOnUse">
            <rect width="7" height="7" fill="var(--sheet)" />
            <circle cx="3.5" cy="3.5" r="1.6" fill="var(--ink)" />
          </pattern>
          <pattern id="share-c" width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill="var(--sheet)" />
            <rect width="6" height="1.6" fill="var(--ink)" />
          </pattern>
        </defs>
        {shares.map((s, i) => (
          <rect
            key={s.part}
            x={(starts[i] ?? 0) * 1000}
            y="2"
            width={Math.max(s.share * 1000, 1)}
            height="30"
            fill={PATTERNS[i % PATTERNS.length]}
            stroke="var(--ink)"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <Table
        columns={[
          "",
          "Part",
          { name: "Share, softest place", right: true },
          { name: "near the motor", right: true },
          { name: "at the far end", right: true },
          "",
        ]}
      >
        {shares.map((s, i) => (
          <tr key={s.part} data-share={s.part}>
            <td>
              <svg width="16" height="12" aria-hidden="true">
                <rect width="16" height="12" fill={PATTERNS[i % PATTERNS.length]} stroke="var(--ink)" />
              </svg>
            </td>
            <td>{s.label}</td>
            <Num>{percent(s.share)}</Num>
            <Num>{percent(s.share_near)}</Num>
            <Num>{percent(s.share_far)}</Num>
            <Acts>
              <Act plain onClick={() => go(s.field, "belt")}>
                change it
              </Act>
            </Acts>
          </tr>
        ))}
      </Table>
    </Sheet>
  );
}

function Along() {
  const { report, show } = useNumbers();
  const scale = useScale();
  const positioning = usePick((v) => v.report?.positioning ?? true);
  const along = report?.along;
  if (!along) return null;
  const length = show(1, "mm").unit;
  const x = scale(along.position_mm, "mm");
  const ringing = along.mode_low_hz.some((f) => f > 0);
  return (
    <Cols>
      <Sheet title="Stiffness and whip along the travel">
        <LinePlot
          label="Stiffness and whip along the travel"
          x={x}
          xAxis={{ name: "Along the travel", unit: length }}
          yAxis={{ name: "Stiffness", unit: show(1, "N/mm").unit }}
          rightAxis={{ name: "Whip", unit: length }}
          lines={[
            { label: "stiffness", y: scale(along.stiffness_n_mm, "N/mm") },
            { label: "whip", y: scale(along.give_mm, "mm"), dash: [4, 4], right: true },
          ]}
        />
      </Sheet>
      <Sheet title="Both modes along the travel">
        {ringing ? (
          <LinePlot
            label="Natural frequencies along the travel"
            x={x}
            xAxis={{ name: "Along the travel", unit: length }}
            yAxis={{ name: "Frequency", unit: "Hz" }}
            lines={[
              { label: "rings at", y: [...along.mode_low_hz] },
              { label: "second mode", y: [...along.mode_high_hz], dash: [4, 4] },
            ]}
          />
        ) : (
          <p className="quiet">
            {positioning
              ? "Unknown: enter the rotor's inertia in Drive."
              : "This motor does not hold a place, so there is no rotor on a spring to ring against."}
          </p>
        )}
      </Sheet>
    </Cols>
  );
}
