/** What to cut and from which roll, and what was cut already. */
import { act, type BeltPlan } from "../../api/client";
import { useChange } from "../../api/queries";
import { useBench, useNumbers, usePick } from "../../design/context";
import { stacked } from "../../drawing/stack";
import { Figure } from "../../frame/Figure";
import { Act } from "../../kit/Act";
import drawn from "../../drawing/drawing.module.css";
import { Acts, Figs, Line as Row, Num, Part, Sheet, Table } from "../../kit/sheets";
import css from "./belt.module.css";

export function Lengths({ plan }: { plan: BeltPlan | undefined }) {
  const { session } = useBench();
  const { show, find } = useNumbers();
  const made = usePick((v) => v.design.made) ?? [];
  const cut = find("belt.cut");
  const length = (mm: number) => show(mm, "mm", 6).both;
  const remember = (key: string, label: string, value: number) =>
    session.set("made", [...made.filter((m) => m.key !== key), { key, label, value }]);
  const packing = plan?.packing;
  return (
    <Sheet title="To cut or to buy">
      <Figs>
        <Figure of="belt.cut" digits={6} />
        <Figure of="belt.cut_teeth" digits={6} />
        <Figure of="belt.free" digits={6} />
        <Figure of="belt.fit_slack" label="Slack left by whole teeth" />
        <Figure of="belt.stretch" label="Stretch at tension" />
        <Figure of="loop.change" label="Changes over the travel by" />
      </Figs>
      {plan?.cuts.map((c) => (
        <p className="small" style={{ marginTop: 8 }} key={c.what + c.note}>
          {c.what}: <b className="num">{length(c.length_mm)}</b>
          {c.teeth > 0 && (
            <>
              , <b className="num">{c.teeth}</b> teeth
            </>
          )}
          ; {c.note}.
        </p>
      ))}
      {(plan?.cuts.length ?? 0) === 0 && (
        <p className="quiet">Nothing on this axis is cut or bought by length.</p>
      )}
      {packing && (
        <Part title="From which roll">
          <p className="small" data-packing>
            {plan.packing_says}
            {!packing.exact && " Many pieces: a good packing, not proven the best."}
          </p>
          {packing.cuts.map((c, i) => (
            <RollBar key={i} cut={c} />
          ))}
          {packing.unplaced.length > 0 && (
            <p className="small signal">
              No roll for: {packing.unplaced.map((p) => `${p.label}, ${length(p.length_mm)}`).join("; ")}.
            </p>
          )}
        </Part>
      )}
      {plan?.grooved.map((g) => (
        <Grooved key={g.field} plan={g} />
      ))}
      {cut?.value != null && (
        <Row foot>
          <Act onClick={() => remember("belt.cut", "Belt", cut.value!)}>
            I have cut it: remember this length
          </Act>
          {made.map((m) => {
            const now = plan?.misfits.find((x) => x.key === m.key);
            return (
              <span className="small" key={m.key} data-made={m.key}>
                {m.label} made at <b className="num">{length(m.value)}</b>
                {now ? `: ${now.says}` : ""}{" "}
                <Act
                  plain
                  onClick={() =>
                    session.set(
                      "made",
                      made.filter((x) => x !== m),
                    )
                  }
                >
                  forget
                </Act>
              </span>
            );
          })}
        </Row>
      )}
    </Sheet>
  );
}

/** Stock lengths of a V-belt, each with the smallest pulley that its steps would then have. */
function Grooved({ plan }: { plan: BeltPlan["grooved"][number] }) {
  const { session } = useBench();
  const { show } = useNumbers();
  const mm = (v: number) => show(v, "mm", 5).said;
  return (
    <Part title={<>{plan.name}: stock lengths</>} data-grooved={plan.field}>
      <Table
        columns={[
          { name: "Length", right: true, width: 110 },
          { name: "In drawer", right: true, width: 100 },
          "On every step",
          "",
        ]}
      >
        {plan.stock.map((s) => (
          <tr key={s.length_mm} data-on={s.length_mm === plan.length_mm}>
            <Num>{mm(s.length_mm)}</Num>
            <Num>{s.owned || "–"}</Num>
            <td className="small">{s.says}</td>
            <Acts>
              {s.length_mm === plan.length_mm ? (
                <b>taken</b>
              ) : (
                <Act
                  disabled={s.smallest_mm === null}
                  aria-label={`Take ${s.length_mm} mm for the ${plan.name}`}
                  onClick={() => session.set(plan.field, s.length_mm)}
                >
                  Take
                </Act>
              )}
            </Acts>
          </tr>
        ))}
      </Table>
    </Part>
  );
}

type Cut = NonNullable<BeltPlan["packing"]>["cuts"][number];

/** One roll as a bar: its pieces, and what is left. */
function RollBar({ cut }: { cut: Cut }) {
  const { show } = useNumbers();
  const { session } = useBench();
  const take = useChange(async (body: { key: string; length_mm: number }) => {
    await act("/drawer/cut", { body });
    await session.again(); // the plan reads the drawer
  }, "drawer");
  const said = (mm: number) => show(mm, "mm", 5).said;
  const whole = cut.roll.length_mm;
  const starts = stacked(cut.pieces.map((p) => p.length_mm));
  return (
    <div className={css.roll}>
      <svg
        className={drawn.bare}
        viewBox="0 0 600 34"
        role="img"
        aria-label={`${cut.roll.name}: ${cut.pieces.map((p) => `${p.label} ${said(p.length_mm)}`).join(", ")}; ${said(cut.leftover_mm)} left`}
      >
        <rect x="1" y="13" width="598" height="15" fill="none" stroke="var(--pencil)" />
        {cut.pieces.map((p, i) => {
          const x = 1 + ((starts[i] ?? 0) / whole) * 598;
          const w = (p.length_mm / whole) * 598;
          return (
            <g key={i}>
              <rect x={x} y="13" width={w} height="15" fill="var(--metal)" stroke="var(--ink)" />
              <text x={x + 4} y="9" fontSize="10">
                {p.label} {said(p.length_mm)}
              </text>
            </g>
          );
        })}
        <text x="596" y="24" fontSize="10" textAnchor="end">
          {(cut.leftover_mm / whole) * 598 > 90 ? `${said(cut.leftover_mm)} left` : ""}
        </text>
      </svg>
      <span className="small">
        {cut.roll.name}
        {cut.roll.owned ? "" : ", to buy"}; <b className="num">{said(cut.leftover_mm)}</b> left{" "}
        {cut.roll.owned && cut.pieces.length === 1 && (
          <Act
            disabled={take.isPending}
            onClick={() => take.mutate({ key: cut.roll.key, length_mm: cut.pieces[0]!.length_mm })}
          >
            Take it off the roll
          </Act>
        )}
      </span>
    </div>
  );
}
