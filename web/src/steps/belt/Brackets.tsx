/** Brackets and axles under the belt's pull: as they are, and what more material would bring. */
import type { BeltPlan } from "../../api/client";
import { useBench, useShow } from "../../design/context";
import { number } from "../../units/format";
import { PartForm } from "../PartForm";
import { Act } from "../../kit/Act";
import { Acts, Note, Num, Part, Sheet, Table } from "../../kit/sheets";
import css from "./belt.module.css";
import { capital } from "../../units/words";

export function Brackets({ plan, open }: { plan: BeltPlan; open: boolean }) {
  const { session } = useBench();
  const show = useShow();
  const mounts = plan.brackets.filter((b) => b.part.endsWith("_mount"));
  const mm = (v: number) => show(v, "mm", 2).said;
  return (
    <Sheet
      title="Brackets and axles"
      note="how they bend and tilt at the largest pull; common practice allows a quarter of a degree"
    >
      {plan.brackets.some((b) => b.variants.length > 0) && (
        <Table
          columns={[
            "Part",
            { name: "Pull", right: true },
            "As",
            { name: "Bends", right: true },
            { name: "Tilts", right: true },
            "Against what is allowed",
            "",
          ]}
        >
          {plan.brackets.flatMap((b) =>
            b.variants.map((v, i) => (
              <tr key={`${b.part} ${v.says}`}>
                <td>{i === 0 ? b.name : ""}</td>
                <Num>{i === 0 && b.load_n !== null ? show(b.load_n, "N").said : ""}</Num>
                <td>{v.says}</td>
                <Num>{mm(v.bend_mm)}</Num>
                <Num signal={v.tilt_deg > b.limit_deg}>{number(v.tilt_deg, 2)}°</Num>
                <td>
                  <Bar share={v.tilt_deg / b.limit_deg} />
                </td>
                <Acts>
                  {i > 0 && (
                    <Act aria-label={`${b.name}: ${v.says}`} onClick={() => session.set(v.field, v.value)}>
                      Take
                    </Act>
                  )}
                </Acts>
              </tr>
            )),
          )}
        </Table>
      )}
      {plan.brackets
        .filter((b) => b.heat)
        .map((b) => (
          <Note key={b.part}>
            {capital(b.name)}: {b.heat}
          </Note>
        ))}
      {mounts.map((b) => (
        <Mount key={b.part} at={b.part} name={b.name} />
      ))}
      {!open && mounts.length === 0 && (
        <p className="quiet small">No bracket of this axis is pulled by a toothed belt.</p>
      )}
    </Sheet>
  );
}

function Mount({ at, name }: { at: string; name: string }) {
  return (
    <Part title={capital(name)}>
      <PartForm path={at} />
    </Part>
  );
}

/** Tilt over what is allowed: the tick is the limit. */
function Bar({ share }: { share: number }) {
  const w = 150;
  return (
    <svg width={w} height="14" aria-hidden="true" className={css.middle}>
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
