/** One closed belt: stock lengths with the distance each gives, ratio and distance together, and places for the motor. */
import type { ClosedPlan } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { money, number } from "../../units/format";
import { PartForm } from "../PartForm";

export function ClosedBelt({ at, plan }: { at: string; plan: ClosedPlan | undefined }) {
  const { session } = useBench();
  const show = useShow();
  const teeth = usePick((v) => getAt(v.design, `${at}.belt_teeth`) as number);
  const currency = usePick((v) => v.design.aim.currency);
  const mm = (v: number, digits = 5) => `${show(v, "mm", digits).text} ${show(v, "mm", digits).unit}`;
  const signed = (v: number) => `${v > 0 ? "+" : v < 0 ? "−" : ""}${mm(Math.abs(v), 3)}`;
  return (
    <section className="sheet" data-closed={at}>
      <h2>
        Closed belt{" "}
        <span className="quiet">stock belts come in whole teeth; the distance of the shafts follows</span>
      </h2>
      <div className="figs" style={{ marginBottom: 10 }}>
        <Figure of={`${at}.centre`} digits={6} />
        <Figure of={`${at}.length`} digits={6} />
        <Figure of={`${at}.tension`} label="Tension to set" />
        <Figure of={`${at}.pluck`} label="Its span sounds at" />
        <Figure of={`${at}.span`} label="Free span" digits={4} />
        <Figure of={`${at}.mesh`} label="Teeth in mesh" />
      </div>
      <PartForm path={at} nested={false} />
      {plan && (
        <div
          className="cols"
          style={{ marginTop: 12, marginBottom: 0, gridTemplateColumns: "minmax(0, 1.35fr) minmax(0, 1fr)" }}
        >
          <div>
            <h3>Stock lengths for shafts {mm(plan.wanted_mm)} apart</h3>
            <p className="small" data-reach>
              {plan.reach}
            </p>
            <div>
              <table className="rows">
                <thead>
                  <tr>
                    <th className="r">Teeth</th>
                    <th className="r">Shafts apart</th>
                    <th className="r">Off by</th>
                    <th className="r">In drawer</th>
                    <th className="r">Price</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {plan.stock.map((s) => (
                    <tr
                      key={s.teeth}
                      className={s.teeth === teeth ? "on" : ""}
                      title={s.says}
                      data-stock={s.teeth}
                    >
                      <td className="r num">{s.teeth}</td>
                      <td className="r num">{s.centre_mm === null ? "cannot reach" : mm(s.centre_mm)}</td>
                      <td className="r num">{s.off_mm === null ? "" : signed(s.off_mm)}</td>
                      <td className="r num">{s.owned || "–"}</td>
                      <td className="r num">{s.price === null ? "–" : money(s.price, currency)}</td>
                      <td className="r">
                        {s.teeth === teeth ? (
                          <b>taken</b>
                        ) : (
                          <button
                            className="act tight"
                            aria-label={`Take ${s.teeth} teeth`}
                            disabled={s.centre_mm === null}
                            onClick={() => session.setAll(s.changes)}
                          >
                            Take
                          </button>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </div>
          <div>
            <h3>Ratio and distance together</h3>
            <p className="small quiet">Stock pulleys and belts for the present ratio; what you own first.</p>
            <table className="rows">
              <thead>
                <tr>
                  <th className="r">Pulleys</th>
                  <th className="r">Belt</th>
                  <th className="r">Ratio</th>
                  <th className="r">Shafts apart</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {plan.pairs.map((p) => (
                  <tr key={`${p.driver_teeth} ${p.driven_teeth} ${p.belt_teeth}`}>
                    <td className="r num">
                      {p.driver_teeth} : {p.driven_teeth}
                    </td>
                    <td className="r num">{p.belt_teeth}</td>
                    <td className="r num">{number(p.ratio, 4)}</td>
                    <td className="r num" title={`${signed(p.off_mm)} from what is wanted`}>
                      {mm(p.centre_mm)}
                    </td>
                    <td className="r">
                      <button
                        className="act tight"
                        aria-label={`Take ${p.driver_teeth} to ${p.driven_teeth} with ${p.belt_teeth} teeth`}
                        onClick={() => session.setAll(p.changes)}
                      >
                        Take
                      </button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {plan.pairs.length === 0 && (
              <p className="small quiet">
                The drawer knows no pulleys and belts of this profile and width that do it.
              </p>
            )}
          </div>
        </div>
      )}
      {plan && (
        <>
          <h3 style={{ marginTop: 12 }}>Where the motor may sit</h3>
          <table className="wide rows">
            <thead>
              <tr>
                <th>Place</th>
                <th className="r">Along × across</th>
                <th className="r">Slot it needs</th>
                <th className="r">Slack to lift the belt off</th>
                <th className="r">Guard</th>
                <th className="r">Bracket</th>
                <th>Wires</th>
                <th>Brings</th>
                <th>Costs</th>
              </tr>
            </thead>
            <tbody>
              {plan.places.map((p) => (
                <tr key={p.name}>
                  <td>{p.name}</td>
                  <td className="r num">
                    {mm(p.along_mm, 3)} × {mm(p.across_mm, 3)}
                  </td>
                  <td className="r num">{mm(p.slot_mm, 3)}</td>
                  <td className="r num">{mm(p.off_mm, 3)}</td>
                  <td className="r num">
                    {mm(p.guard_mm[0], 3)} × {mm(p.guard_mm[1], 3)}
                  </td>
                  <td className="r num">{mm(p.bracket_mm, 3)}</td>
                  <td>{p.wiring}</td>
                  <td>{p.gives}</td>
                  <td>{p.costs}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}
