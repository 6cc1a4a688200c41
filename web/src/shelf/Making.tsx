/** What is made on the shelf: a machine, a name for it, an axis from a layout or from a file. */
import { useRef, useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { act, Refusal, type LayoutRow, type Problem, type ShelfMachine } from "../api/client";
import { anew, client, useForm, useLayouts, useStart } from "../api/queries";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { OpenFile, Words } from "../kit/inputs";
import { Failed, Notice, told } from "../kit/Notice";
import { Fields, Line } from "../kit/sheets";
import { useSystem } from "../design/context";
import { useDraft, useSent } from "../design/typed";
import { Unsent } from "../kit/Unsent";
import { FreeNumber } from "../fields/FreeNumber";
import { plain, shownUnit } from "../units/format";
import css from "./shelf.module.css";
import { LayoutChooser } from "../steps/aim/LayoutChooser";

interface Props {
  opened: boolean;
  close: () => void;
}

export function NewMachine({ opened, close }: Props) {
  const draft = useDraft("new machine", { name: "" });
  const { name } = draft.value;
  const add = useForm(
    (body: { name: string; note: string }) => act<{ id: string }>("/machines", { body }),
    "shelf",
  );
  const open = useForm((text: string) => act<{ id: string }>("/machines/import", { text }), "shelf");
  const go = useNavigate();
  const make = (e: FormEvent) => {
    e.preventDefault();
    add.mutate({ name: name.trim(), note: "" }, { onSuccess: () => (draft.drop(), close()) });
  };
  return (
    <Dialog opened={opened} close={close} title="New machine">
      <form onSubmit={make}>
        <Words label="Name" value={name} most={120} onValue={(v) => draft.set({ name: v })} focused />
        <Failed of={add.error} title="It is not on the shelf" />
        <Line foot>
          <Act big main type="submit" disabled={!name.trim()} busy={add.isPending}>
            Put it on the shelf
          </Act>
          <OpenFile
            big
            label="Machine's file"
            accept=".json,application/json"
            onFile={(file) =>
              void file
                .text()
                .then((text) => open.mutate(text, { onSuccess: ({ id }) => void go(`/machine/${id}`) }))
            }
          >
            Open a machine's file
          </OpenFile>
        </Line>
        <Failed of={open.error} title="The machine is not opened" />
      </form>
    </Dialog>
  );
}

export function Rename({ machine, opened, close }: Props & { machine: ShelfMachine }) {
  const draft = useDraft(`rename ${machine.id}`, { name: machine.name, note: machine.note });
  const { name, note } = draft.value;
  const save = useForm(
    () =>
      act(`/machines/${machine.id}`, {
        method: "PUT",
        body: { name: name.trim(), note: note.trim(), base_version: machine.version },
      }),
    "shelf",
    "off",
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    // What another window has set meanwhile is shown first.
    save.mutate(undefined, {
      onSuccess: () => (draft.drop(), close()),
      onError: () => void anew(client, "shelf"),
    });
  };
  const other = save.error instanceof Refusal && save.error.status === 409;
  return (
    <Dialog opened={opened} close={close} title={`Rename ${machine.name}`}>
      <form onSubmit={submit}>
        <Words label="Name" value={name} most={120} onValue={(v) => draft.set({ name: v })} focused />
        <Words label="Note" value={note} most={2000} rows={3} onValue={(v) => draft.set({ note: v })} />
        {other ? (
          <Notice title="That did not work">
            {save.error?.message} It is called “{machine.name}” there by now; rename it once more to keep
            yours.
          </Notice>
        ) : (
          <Failed of={save.error} />
        )}
        <Line foot>
          <Act big main type="submit" disabled={!name.trim()} busy={save.isPending}>
            Rename it
          </Act>
          <Act big onClick={() => (draft.drop(), close())}>
            Leave it
          </Act>
        </Line>
      </form>
    </Dialog>
  );
}

export function NewAxis({ machine, opened, close }: Props & { machine?: ShelfMachine }) {
  return (
    <Dialog
      opened={opened}
      close={close}
      title={machine ? `An axis for ${machine.name}` : "Your first axis"}
      wide={940}
    >
      <Begin machine={machine} />
    </Dialog>
  );
}

type How =
  { text: string } | { name: string; layout: string; aims: Record<string, number>; propose: boolean };

/** Name, layout and the few numbers that it asks for; what follows is the proposals. */
function Begin({ machine }: { machine: ShelfMachine | undefined }) {
  const layouts = useLayouts();
  const draft = useDraft(`new axis ${machine?.id ?? ""}`, {
    name: "",
    bench: "My machine",
    layout: "carriage_loop",
  });
  const { name, bench, layout } = draft.value;
  const sent = useSent();
  const [typed, setTyped] = useState<Record<string, number | null>>({});
  const navigate = useNavigate();
  // Made once: an axis that is refused leaves its machine to be filled.
  const own = useRef(machine?.id);
  const made = useForm(async (how: How) => {
    own.current ??= (await act<{ id: string }>("/machines", { body: { name: bench.trim(), note: "" } })).id;
    if ("text" in how) return act<{ id: string }>(`/machines/${own.current}/import`, { text: how.text });
    const { name, layout, aims } = how;
    return act<{ id: string }>(`/machines/${own.current}/axes`, { body: { name, layout, aims } });
  }, "shelf");
  const asks = layouts.data?.find((l) => l.key === layout)?.asks ?? [];
  const wrong = asks.some((a) => typed[a.path] === null);
  const ready = Boolean(name.trim() && bench.trim() && asks.length && !wrong);
  const make = (propose: boolean) => {
    // What nobody has touched stays as the layout begins, and is shown as assumed.
    const said = asks.flatMap(({ path }) => (typeof typed[path] === "number" ? [[path, typed[path]]] : []));
    const aims = Object.fromEntries(said) as Record<string, number>;
    run({ name: name.trim(), layout, aims, propose });
  };
  const run = (how: How) =>
    made.mutate(how, {
      onSuccess: ({ id }) => {
        sent();
        draft.drop();
        void navigate(`/axis/${id}/aim`, { state: { propose: "propose" in how && how.propose } });
      },
    });
  const problems = made.error instanceof Refusal ? made.error.problems : [];
  return (
    <form className={css.begin} onSubmit={(e) => (e.preventDefault(), ready && make(true))}>
      <Fields>
        <Words
          label="Name of the axis"
          value={name}
          most={120}
          onValue={(v) => draft.set({ name: v })}
          focused
        />
        {!machine && (
          <Words
            label="Machine it belongs to"
            value={bench}
            most={120}
            onValue={(v) => draft.set({ bench: v })}
          />
        )}
      </Fields>
      <Fields>
        {asks.map((ask) => (
          <Asked
            key={`${draft.turn} ${layout} ${ask.path}`}
            ask={ask}
            typed={typed[ask.path]}
            problem={problems.find((p) => p.field === ask.path)}
            onValue={(value) => setTyped({ ...typed, [ask.path]: value })}
          />
        ))}
      </Fields>
      <Line foot>
        <Act big main type="submit" disabled={!ready} busy={made.isPending}>
          Propose axes for it
        </Act>
        <Act big disabled={!ready || made.isPending} onClick={() => make(false)}>
          Begin the axis
        </Act>
        <OpenFile
          big
          label="Design file"
          accept=".json,application/json"
          onFile={(file) => void file.text().then((text) => run({ text }))}
        >
          Open a design file
        </OpenFile>
        <Unsent
          of={{ typed: draft.typed, drop: () => (sent(), setTyped({}), draft.drop()) }}
          what="what is typed"
        />
      </Line>
      <Failed of={made.error} title="The axis is not made" />
      <LayoutChooser chosen={layout} choose={(v) => draft.set({ layout: v })} />
    </form>
  );
}

type Asks = LayoutRow["asks"][number];

/** One number that a layout asks for; what its layout begins with stands there until somebody says otherwise. */
function Asked({
  ask,
  typed,
  problem,
  onValue,
}: {
  ask: Asks;
  typed: number | null | undefined;
  problem: Problem | undefined;
  onValue: (value: number | null) => void;
}) {
  const start = useStart();
  const [system] = useSystem();
  if (!start.data) return null;
  const units = start.data.units;
  const unit = shownUnit(ask.dimension, units, system, ask.unit);
  const factor = units[ask.dimension]?.factors[unit] ?? 1;
  return (
    <FreeNumber
      key={system}
      label={ask.title}
      dimension={ask.dimension}
      units={units}
      unit={unit}
      name={ask.path}
      start={plain((typed ?? ask.value) / factor)}
      orNone
      error={problem && told(problem)}
      onValue={onValue}
    />
  );
}
