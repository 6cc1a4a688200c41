/** Where the axes of a machine lie, what else takes up room there, and the least room between what moves past what. */
import { useState } from "react";
import type { MachineAnswer, MachinePlan } from "../api/client";
import { VerdictMark } from "../frame/verdict";
import { newKey } from "../api/keys";
import { useDraft, useSent } from "../design/typed";
import { Act } from "../kit/Act";
import { Pick, Words } from "../kit/inputs";
import { Unsent } from "../kit/Unsent";
import { Fields, Fold, Line, Num, Table } from "../kit/sheets";
import { Length } from "./Length";
import { usePlan, useSaid } from "./plan";
import css from "./machine.module.css";

type Bar = MachineAnswer["report"]["drawn"][number];
type Body = MachinePlan["bodies"][number];
type Place = NonNullable<MachinePlan["placed"]>[string];

const WAYS = { x: "along, x", y: "across, y", z: "upwards, z" };
const ACROSS = { x: "y", y: "x", z: "y" };
const UP = { x: "z", y: "z", z: "x" };
const STANDS = "stands still";

export function Passings({ machine }: { machine: MachineAnswer }) {
  const { passings } = machine.report;
  const said = useSaid();
  const [all, setAll] = useState(false);
  if (passings.length === 0) return null;
  const close = passings.filter((p) => p.verdict === "short" || p.verdict === "tight").length;
  const shown = all ? passings : passings.slice(0, close + 3);
  return (
    <>
      <Table
        caption="What moves past what, to the stops behind the switches"
        columns={["How it stands", "One", "The other", { name: "least room", right: true }, "What to do"]}
      >
        {shown.map((p) => (
          <tr key={`${p.a} ${p.b}`} data-passing={`${p.a}, ${p.b}`} data-verdict={p.verdict}>
            <td>
              <VerdictMark verdict={p.verdict} />
            </td>
            <td>{p.a}</td>
            <td>{p.b}</td>
            <Num>
              {p.room_mm >= 0
                ? said(p.room_mm, "mm", 3).said
                : p.verdict === "unknown"
                  ? "not known"
                  : "none"}
              <span className="small quiet"> {p.way}</span>
            </Num>
            <td className="small">{p.says}</td>
          </tr>
        ))}
      </Table>
      {shown.length < passings.length && (
        <span className="no-print">
          <Act plain onClick={() => setAll(true)}>
            and {passings.length - shown.length} more
          </Act>
        </span>
      )}
    </>
  );
}

export function Places({ machine }: { machine: MachineAnswer }) {
  const { drawn } = machine.report;
  const [chosen, setChosen] = useState("");
  const axis = drawn.find((b) => b.key === chosen) ?? drawn[0];
  if (!axis) return null;
  const said = drawn.map((b) => `${b.name} ${b.way}${b.placed ? "" : ", assumed"}`).join(" · ");
  return (
    <Fold title="Where each axis lies, and which way it goes" says={said}>
      {() => (
        <>
          <Fields>
            <Pick
              label="Axis"
              value={axis.key}
              options={drawn.map((b) => ({ value: b.key, label: b.name }))}
              onValue={setChosen}
            />
          </Fields>
          <PlaceOf key={axis.key} machine={machine} axis={axis} />
        </>
      )}
    </Fold>
  );
}

const AT = { x_mm: "x", y_mm: "y", z_mm: "z" } as const;
const PLACES = ["x_mm", "y_mm", "z_mm"] as const;

function PlaceOf({ machine, axis }: { machine: MachineAnswer; axis: Bar }) {
  const { save, busy } = usePlan(machine);
  const now = machine.plan.placed?.[axis.key];
  const [typed, setTyped] = useState<Partial<Place>>(now ?? {});
  const sent = useSent();
  const mount = machine.report.axes.find((a) => a.key === axis.carried_by[0]);
  const length = (name: keyof Place, label: string, size = false) => (
    <Length
      key={name}
      label={label}
      name={`${name} of ${axis.name}`}
      now={now?.[name] as number | undefined}
      signed={!size}
      onValue={(v) => setTyped((t) => ({ ...t, [name]: v }))}
    />
  );
  return (
    <>
      <p className="small quiet">
        {axis.swing ? "Its pivot, from " : "The middle of its carriage, in mid travel, from "}
        {mount ? `the middle of ${mount.name}'s carriage` : "a zero that you choose for the whole machine"};
        and how large {axis.swing ? "what sits at its tip is" : "the carriage is with all that sticks out"}.
      </p>
      <Fields>
        <Pick
          label={axis.swing ? "Points" : "Goes"}
          value={axis.way}
          options={Object.entries(WAYS).map(([value, label]) => ({ value, label }))}
          onValue={(way) => save((plan) => ({ along: { ...plan.along, [axis.key]: way as Bar["way"] } }))}
        />
        {PLACES.map((name) => length(name, AT[name]))}
        {length("wide_mm", `${axis.swing ? "Tip" : "Carriage"}'s size along ${ACROSS[axis.way]}`, true)}
        {length("high_mm", `and along ${UP[axis.way]}`, true)}
      </Fields>
      <Line foot>
        <Act
          main
          busy={busy}
          onClick={() =>
            save(
              (plan) => ({
                placed: { ...plan.placed, [axis.key]: { x_mm: 0, y_mm: 0, z_mm: 0, ...filled(typed) } },
              }),
              { onSuccess: () => sent() },
            )
          }
        >
          It lies there
        </Act>
        {now && (
          <Act
            onClick={() =>
              save((plan) => ({
                placed: Object.fromEntries(Object.entries(plan.placed ?? {}).filter(([k]) => k !== axis.key)),
              }))
            }
          >
            As assumed again
          </Act>
        )}
      </Line>
    </>
  );
}

/** Only what was typed. */
const filled = <T extends object>(typed: T) =>
  Object.fromEntries(Object.entries(typed).filter(([, v]) => v !== null && v !== undefined)) as T;

const SIZES = { long_mm: "Size along x", wide_mm: "along y", high_mm: "along z" } as const;
const LENGTHS = ["long_mm", "wide_mm", "high_mm"] as const;
const NEW: Body = {
  id: "",
  label: "",
  on: "",
  x_mm: 0,
  y_mm: 0,
  z_mm: 0,
  long_mm: 30,
  wide_mm: 30,
  high_mm: 30,
};

export function Bodies({ machine }: { machine: MachineAnswer }) {
  const { save } = usePlan(machine);
  const said = useSaid();
  const [open, setOpen] = useState<string | null>(null);
  const bodies = machine.plan.bodies ?? [];
  const names = new Map(machine.report.axes.map((a) => [a.key, a.name]));
  return (
    <Fold
      title="Columns, frame, tools: what else takes up room"
      says={bodies.length > 0 ? bodies.map((b) => b.label).join(", ") : "none entered"}
    >
      {() => (
        <>
          <ul className={css.plain}>
            {bodies.map((b) => (
              <li key={b.id} data-entered={b.label}>
                {b.label}{" "}
                <span className="small quiet num">
                  {[b.long_mm, b.wide_mm, b.high_mm].map((mm) => said(mm, "mm", 5).said).join(" × ")} at{" "}
                  {[b.x_mm, b.y_mm, b.z_mm].map((mm) => said(mm, "mm", 5).said).join(", ")}
                </span>{" "}
                <span className="small">
                  {b.on ? `moves with ${names.get(b.on) ?? "an axis that is gone"}` : STANDS}
                </span>{" "}
                <Act plain aria-label={`Change ${b.label}`} onClick={() => setOpen(b.id ?? null)}>
                  change
                </Act>{" "}
                <Act
                  plain
                  aria-label={`Take out ${b.label}`}
                  onClick={() => {
                    setOpen(null);
                    save((plan) => ({ bodies: plan.bodies.filter((o) => o.id !== b.id) }));
                  }}
                >
                  take it out
                </Act>
              </li>
            ))}
          </ul>
          <BodyForm
            key={`${open} ${bodies.length}`}
            machine={machine}
            at={open}
            body={bodies.find((b) => b.id === open) ?? NEW}
            onDone={() => setOpen(null)}
          />
        </>
      )}
    </Fold>
  );
}

interface FormProps {
  machine: MachineAnswer;
  at: string | null;
  body: Body;
  onDone: () => void;
}

function BodyForm({ machine, at, body, onDone }: FormProps) {
  const { save, busy } = usePlan(machine);
  // With an id of its own: pressed again it is the same.
  const draft = useDraft<Record<string, unknown>>(`body ${at ?? ""}`, { ...body, id: at ?? newKey(6) });
  const typed = draft.value;
  const id = typed.id;
  const sent = useSent();
  const wrong = Object.values(typed).some((v) => v === null) || !String(typed.label).trim();
  const options = [
    { value: "", label: STANDS },
    ...machine.report.axes.map((a) => ({ value: a.key, label: `moves with ${a.name}` })),
  ];
  const length = (name: keyof typeof AT | keyof typeof SIZES, label: string, signed: boolean) => (
    <Length
      key={name}
      label={label}
      name={`body ${name}`}
      now={body[name]}
      signed={signed}
      onValue={(v) => draft.set({ [name]: v })}
    />
  );
  return (
    <>
      <Fields>
        <Words label="What" value={String(typed.label)} most={80} onValue={(label) => draft.set({ label })} />
        <Pick label="It" value={String(typed.on)} options={options} onValue={(on) => draft.set({ on })} />
        {PLACES.map((name) => length(name, `Middle, ${AT[name]}`, true))}
        {LENGTHS.map((name) => length(name, SIZES[name], false))}
      </Fields>
      <Line foot>
        <Act
          main
          busy={busy}
          disabled={wrong}
          onClick={() =>
            save(
              (plan) => ({
                bodies:
                  at === null
                    ? [...plan.bodies.filter((b) => b.id !== id), { ...typed, id } as unknown as Body]
                    : plan.bodies.map((b) => (b.id === at ? ({ ...b, ...typed } as Body) : b)),
              }),
              { onSuccess: () => (sent(), draft.drop(), onDone()) },
            )
          }
        >
          {at === null ? "Add it" : "Keep it"}
        </Act>
        <Unsent
          of={{ typed: draft.typed, drop: () => (sent(), draft.drop(), onDone()) }}
          what="what is typed"
        />
        <span className="small quiet">
          A box around it. Its middle from zero, or from the carriage's middle, or the arm's tip, that it
          moves with.
        </span>
      </Line>
    </>
  );
}
