/** One closed belt: stock lengths with the distance each gives, ratio and distance together, and places for the motor. */
import type { ClosedPlan } from "../../api/client";
import { useBench, usePick, useShow } from "../../design/context";
import { getAt } from "../../design/path";
import { Figure } from "../../frame/Figure";
import { money, number } from "../../units/format";
import { PartForm } from "../PartForm";
import { Act } from "../../kit/Act";
import { Acts, Cols, Figs, Num, Part, Sheet, Table } from "../../kit/sheets";

export function ClosedBelt({ at, plan }: { at: string; plan: ClosedPlan | undefined }) {
  const { session } = useBench();
  const show = useShow();
  const teeth = usePick((v) => getAt(v.design, `${at}.belt_teeth`) as number);
  const currency = usePick((v) => v.design.aim.currency);
  const mm = (v: number, digits = 5) => show(v, "mm", digits).said;
  const signed = (v: number) => `${v > 0 ? "+" : v < 0 ? "−" : ""}${mm(Math.abs(v), 3)}`;
  return (
    <Sheet
      title="Closed belt"
      note="stock belts come in whole teeth; the distance of the shafts follows"
      data-closed={at}
    >
      <Figs>
        <Figure of={`${at}.centre`} digits={6} />
        <Figure of={`${at}.length`} digits={6} />
        <Figure of={`${at}.tension`} label="Tension to set" />
        <Figure of={`${at}.pluck`} label="Its span sounds at" />
        <Figure of={`${at}.span`} label="Free span" digits={4} />
        <Figure of={`${at}.mesh`} label="Teeth in mesh" />
      </Figs>
      <PartForm path={at} nested={false} />
      <Part title="What tightens it">
        <PartForm path={`${at}.tensioner`} folded="Its kind, and what belongs to it" />
        <Figs>
          <Figure of={`${at}.tensioner.demand`} label="Travel that it must have" />
          <Figure of={`${at}.tensioner.gives`} label="Tension that it gives" />
          <Figure of={`${at}.tensioner.draw`} label="Draw the spring out by" />
          <Figure of={`${at}.tensioner.screw_length`} label="Screw, at least" />
          <Figure of={`${at}.tensioner.slot`} label="Slot, at least" />
          <Figure of={`${at}.tensioner.pull`} label="Pull on it at rest" />
          <Figure of={`${at}.tensioner.force`} label="Force in each screw" />
          <Figure of={`${at}.tensioner.turn`} label="Tension for one turn" />
          <Figure of={`${at}.middle_along`} label="Shaft between both belts, along" />
          <Figure of={`${at}.middle_across`} label="and beside that line" />
        </Figs>
      </Part>
      {plan && (
        <Cols>
          <div>
            <h3>Stock lengths for shafts {mm(plan.wanted_mm)} apart</h3>
            <p className="small" data-reach>
              {plan.reach}
            </p>
            <div>
              <Table
                columns={[
                  { name: "Teeth", right: true },
                  { name: "Shafts apart", right: true },
                  { name: "Off by", right: true },
                  { name: "In drawer", right: true },
                  { name: "Price", right: true },
                  "",
                ]}
              >
                {plan.stock.map((s) => (
                  <tr key={s.teeth} data-on={s.teeth === teeth} title={s.says} data-stock={s.teeth}>
                    <Num>{s.teeth}</Num>
                    <Num>{s.centre_mm === null ? "cannot reach" : mm(s.centre_mm)}</Num>
                    <Num>{s.off_mm === null ? "" : signed(s.off_mm)}</Num>
                    <Num>{s.owned || "–"}</Num>
                    <Num>{s.price === null ? "–" : money(s.price, currency)}</Num>
                    <Acts>
                      {s.teeth === teeth ? (
                        <b>taken</b>
                      ) : (
                        <Act
                          aria-label={`Take ${s.teeth} teeth`}
                          disabled={s.centre_mm === null}
                          onClick={() => session.setAll(s.changes)}
                        >
                          Take
                        </Act>
                      )}
                    </Acts>
                  </tr>
                ))}
              </Table>
            </div>
          </div>
          <div>
            <h3>Ratio and distance together</h3>
            <p className="small quiet">Stock pulleys and belts for the present ratio; what you own first.</p>
            <Table
              columns={[
                { name: "Pulleys", right: true },
                { name: "Belt", right: true },
                { name: "Ratio", right: true },
                { name: "Shafts apart", right: true },
                "",
              ]}
            >
              {plan.pairs.map((p) => (
                <tr key={`${p.driver_teeth} ${p.driven_teeth} ${p.belt_teeth}`}>
                  <Num>
                    {p.driver_teeth} : {p.driven_teeth}
                  </Num>
                  <Num>{p.belt_teeth}</Num>
                  <Num>{number(p.ratio, 4)}</Num>
                  <Num title={`${signed(p.off_mm)} from what is wanted`}>{mm(p.centre_mm)}</Num>
                  <Acts>
                    <Act
                      aria-label={`Take ${p.driver_teeth} to ${p.driven_teeth} with ${p.belt_teeth} teeth`}
                      onClick={() => session.setAll(p.changes)}
                    >
                      Take
                    </Act>
                  </Acts>
                </tr>
              ))}
            </Table>
            {plan.pairs.length === 0 && (
              <p className="small quiet">
                The drawer knows no pulleys and belts of this profile and width that do it.
              </p>
            )}
          </div>
        </Cols>
      )}
      {plan && (
        <>
          <h3>Where the motor may sit</h3>
          <Table
            columns={[
              "Place",
              { name: "Along × across", right: true },
              { name: "Slot it needs", right: true },
              { name: "Slack to lift the belt off", right: true },
              { name: "Guard", right: true },
              { name: "Bracket", right: true },
              "Wires",
              "Brings",
              "Costs",
            ]}
            dense
          >
            {plan.places.map((p) => (
              <tr key={p.name}>
                <td>{p.name}</td>
                <Num>
                  {mm(p.along_mm, 3)} × {mm(p.across_mm, 3)}
                </Num>
                <Num>{mm(p.slot_mm, 3)}</Num>
                <Num>{mm(p.off_mm, 3)}</Num>
                <Num>
                  {mm(p.guard_mm[0], 3)} × {mm(p.guard_mm[1], 3)}
                </Num>
                <Num>{mm(p.bracket_mm, 3)}</Num>
                <td>{p.wiring}</td>
                <td>{p.gives}</td>
                <td>{p.costs}</td>
              </tr>
            ))}
          </Table>
        </>
      )}
    </Sheet>
  );
}
