/** Brackets and axles under the belt's pull: as they are, and what more material would bring. */
import type { BeltPlan } from "../../api/client";
import { useBench, useShow } from "../../design/context";
import { number } from "../../units/format";
import { PartForm } from "../PartForm";

export function Brackets({ plan, open }: { plan: BeltPlan; open: boolean }) {
  const { session } = useBench();
  const show = useShow();
  const mounts = plan.brackets.filter((b) => b.part.endsWith("_mount"));
  const mm = (v: number) => `${show(v, "mm", 2).text} ${show(v, "mm", 2).unit}`;
  return (
    <section className="sheet">
      <h2>
        Brackets and axles{" "}
        <span className="quiet">
          how they bend and tilt at the largest pull; common practice allows a quarter of a degree
        </span>
      </h2>
      {plan.brackets.some((b) => b.variants.length > 0) && (
        <table className="rows">
          <thead>
            <tr>
              <th>Part</th>
              <th className="r">Pull</th>
              <th>As</th>
              <th className="r">Bends</th>
              <th className="r">Tilts</th>
              <th>Against what is allowed</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {plan.brackets.flatMap((b) =>
              b.variants.map((v, i) => (
                <tr key={`${b.part} ${v.says}`}>
                  <td>{i === 0 ? b.name : ""}</td>
                  <td className="r num">
                    {i === 0 && b.load_n !== null
                      ? `${show(b.load_n, "N").text} ${show(b.load_n, "N").unit}`
                      : ""}
                  </td>
                  <td>{v.says}</td>
                  <td className="r num">{mm(v.bend_mm)}</td>
                  <td className={`r num ${v.tilt_deg > b.limit_deg ? "signal" : ""}`}>
                    {number(v.tilt_deg, 2)}°
                  </td>
                  <td>
                    <Bar share={v.tilt_deg / b.limit_deg} />
                  </td>
                  <td className="r">
                    {i > 0 && (
                      <button
                        className="act tight"
                        aria-label={`${b.name}: ${v.says}`}
                        onClick={() => session.set(v.field, v.value)}
                      >
                        Take
                      </button>
                    )}
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      )}
      {plan.brackets
        .filter((b) => b.heat)
        .map((b) => (
          <p key={b.part} className="note">
            {b.name.replace(/^./, (c) => c.toUpperCase())}: {b.heat}
          </p>
        ))}
      {mounts.map((b) => (
        <Mount key={b.part} at={b.part} name={b.name} />
      ))}
      {!open && mounts.length === 0 && (
        <p className="quiet small">No bracket of this axis is pulled by a toothed belt.</p>
      )}
    </section>
  );
}

function Mount({ at, name }: { at: string; name: string }) {
  return (
    <div className="nested">
      <h3>{name.replace(/^./, (c) => c.toUpperCase())}</h3>
      <PartForm path={at} />
    </div>
  );
}

/** Tilt over what is allowed: the tick is the limit. */
function Bar({ share }: { share: number }) {
  const w = 150;
  return (
    <svg width={w} height="14" aria-hidden="true" style={{ verticalAlign: "middle" }}>
      <rect
        x="0.5"
        y="4"
        width={Math.min(share, 1.5) * (w / 1.5) - 1 > 0 ? Math.min(share, 1.5) * (w / 1.5) - 1 : 0.6}
        height="6"
        fill={share > 1 ? "var(--signal)" : "var(--pencil)"}
      />
      <line x1={w / 1.5} x2={w / 1.5} y1="0" y2="14" stroke="var(--ink)" strokeWidth="1.4" />
    </svg>
  );
}
