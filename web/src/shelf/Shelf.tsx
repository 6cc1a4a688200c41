/** The machines, each with its axes as one line. */
import { useRef, useState, type FormEvent } from "react";
import { Link, useNavigate } from "react-router";
import { Button, Modal, Textarea, TextInput } from "@mantine/core";
import { ask, Refusal, Unreachable, type ShelfAxis, type ShelfMachine } from "../api/client";
import { client, useChange, usePutBack, useShelf } from "../api/queries";
import { SceneSketch } from "../drawing/SceneDrawing";
import { LayoutChooser } from "../steps/aim/LayoutChooser";
import { Plain } from "../frame/Plain";
import { Notice } from "../kit/Notice";
import { DataFile } from "./DataFile";
import { StoreNotice } from "./StoreNotice";
import { TakenOff } from "./TakenOff";
import { VerdictMark } from "../frame/verdict";
import { money } from "../units/format";

export default function Shelf() {
  const shelf = useShelf();
  const [making, setMaking] = useState(false);
  const [removed, setRemoved] = useState<{ path: string; name: string } | null>(null);
  const back = usePutBack();
  const takeOff = useChange(
    ({ path }: { path: string; name: string }) => ask(path, { method: "DELETE" }),
    "shelf",
    "off",
  );
  const failed = takeOff.error ?? back.error;
  return (
    <Plain>
      <div style={{ display: "flex", alignItems: "baseline", gap: 14, marginBottom: 16 }}>
        <h1 style={{ fontSize: 24, fontWeight: 600 }}>Shelf</h1>
        <span className="quiet">each axis with its verdict and what limits it</span>
        <button className="act main" style={{ marginLeft: "auto" }} onClick={() => setMaking(true)}>
          New machine
        </button>
      </div>
      {removed && (
        <Notice
          title={`“${removed.name}” is off the shelf`}
          grave={false}
          actions={[
            {
              says: "Put it back",
              main: true,
              busy: back.isPending,
              run: () => back.mutate(removed.path, { onSuccess: () => setRemoved(null) }),
            },
            { says: "Close", run: () => setRemoved(null) },
          ]}
        >
          Nothing was deleted: it stands at the foot of this page.
        </Notice>
      )}
      {failed && <Notice title="That did not work">{failed.message}</Notice>}
      <StoreNotice />
      {shelf.error && (
        <Notice title="The shelf cannot be shown">
          {shelf.error.message}
          {shelf.error instanceof Unreachable && " Start it again; this page follows by itself."}
        </Notice>
      )}
      {shelf.data?.length === 0 && (
        <div className="sheet">
          <h2>Nothing on the shelf yet</h2>
          <p>
            Make a machine, then add an axis to it: from one of the layouts, or from a design file. To look
            around first, stop the program and start <span className="num">crisp-cadence demo</span>.
          </p>
          <p style={{ marginTop: 10 }}>
            <button className="act main" onClick={() => setMaking(true)}>
              New machine
            </button>
          </p>
        </div>
      )}
      {shelf.data?.map((m) => (
        <MachineRows
          key={m.id}
          machine={m}
          takeOff={(path, name) =>
            takeOff.mutate({ path, name }, { onSuccess: () => setRemoved({ path, name }) })
          }
        />
      ))}
      <TakenOff />
      <DataFile />
      <NewMachine opened={making} close={() => setMaking(false)} />
    </Plain>
  );
}

function MachineRows({
  machine,
  takeOff,
}: {
  machine: ShelfMachine;
  takeOff: (path: string, name: string) => void;
}) {
  const [adding, setAdding] = useState(false);
  const [naming, setNaming] = useState(false);
  return (
    <section className="machine" aria-label={machine.name}>
      <header>
        <h2>{machine.name}</h2>
        <span className="quiet small">{machine.note}</span>
        <span style={{ marginLeft: "auto", display: "flex", gap: 10 }}>
          <button className="act tight" onClick={() => setAdding(true)}>
            Add an axis
          </button>
          <Button size="compact-xs" variant="subtle" onClick={() => setNaming(true)}>
            Rename
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            aria-label={`Take ${machine.name} off the shelf`}
            onClick={() => takeOff(`/machines/${machine.id}`, machine.name)}
          >
            Take off the shelf
          </Button>
        </span>
      </header>
      {machine.axes.length === 0 && (
        <p className="quiet" style={{ padding: "9px 4px" }}>
          No axis yet. Add the first one: give it a name, then say what it is for.
        </p>
      )}
      {machine.axes.map((a) => (
        <AxisRow key={a.id} axis={a} takeOff={() => takeOff(`/axes/${a.id}`, a.name)} />
      ))}
      <Rename key={String(naming)} machine={machine} opened={naming} close={() => setNaming(false)} />
      <NewAxis machine={machine} opened={adding} close={() => setAdding(false)} />
    </section>
  );
}

function AxisRow({ axis, takeOff }: { axis: ShelfAxis; takeOff: () => void }) {
  return (
    <div className="axis-line">
      <Link className="axis-row" to={`/axis/${axis.id}/aim`}>
        <span className="name">{axis.name}</span>
        <span>{axis.scene && <SceneSketch scene={axis.scene} q={axis.scene.travel_mm / 2} />}</span>
        <span>
          <VerdictMark verdict={axis.verdict} />{" "}
          <span className="small" style={{ display: "block" }}>
            {axis.in_words.replace(/^(holds; |tight: |short: |unknown: )/, "")}
          </span>
        </span>
        <span className="small">
          {axis.verdict.startsWith("cannot") ? (
            <span className="quiet">not counted</span>
          ) : (
            <>
              <span className="num">{axis.total === null ? "–" : money(axis.total, axis.currency)}</span> in
              all
              <br />
              <span className="quiet">
                {axis.spend ? (
                  <>
                    <span className="num">{money(axis.spend, axis.currency)}</span> to spend
                  </>
                ) : (
                  "nothing to spend"
                )}
                {axis.unpriced > 0 ? `, ${axis.unpriced} unpriced` : ""}
              </span>
            </>
          )}
        </span>
        <span className="small quiet">
          {axis.last_log ? (
            <>
              <span className="num">{axis.last_log.on_date}</span> {short(axis.last_log.says)}
            </>
          ) : (
            "nothing in the log"
          )}
        </span>
      </Link>
      <Button
        size="compact-xs"
        variant="subtle"
        aria-label={`Take ${axis.name} off the shelf`}
        onClick={takeOff}
      >
        Take off
      </Button>
    </div>
  );
}

/** A log line cut at a word. */
function short(says: string, longest = 58): string {
  return says.length <= longest ? says : `${says.slice(0, longest).replace(/\s+\S*$/, "")}…`;
}

function Rename({ machine, opened, close }: { machine: ShelfMachine; opened: boolean; close: () => void }) {
  const [name, setName] = useState(machine.name);
  const [note, setNote] = useState(machine.note);
  const save = useChange(
    () =>
      ask(`/machines/${machine.id}`, {
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
      onSuccess: close,
      onError: () => void client.invalidateQueries({ queryKey: ["shelf"] }),
    });
  };
  return (
    <Modal opened={opened} onClose={close} title={`Rename ${machine.name}`}>
      <form onSubmit={submit}>
        <TextInput
          label="Name"
          value={name}
          maxLength={120}
          data-autofocus
          onChange={(e) => setName(e.target.value)}
        />
        <Textarea
          label="Note"
          value={note}
          maxLength={2000}
          rows={3}
          mt={8}
          onChange={(e) => setNote(e.target.value)}
        />
        {save.error && (
          <Notice title="That did not work">
            {save.error.message}{" "}
            {save.error instanceof Refusal &&
              save.error.status === 409 &&
              `It is called “${machine.name}” there by now; rename it once more to keep yours.`}
          </Notice>
        )}
        <p style={{ marginTop: 12, display: "flex", gap: 8 }}>
          <Button type="submit" disabled={!name.trim()} loading={save.isPending}>
            Rename it
          </Button>
          <Button variant="default" onClick={close}>
            Leave it
          </Button>
        </p>
      </form>
    </Modal>
  );
}

function NewMachine({ opened, close }: { opened: boolean; close: () => void }) {
  const [name, setName] = useState("");
  const add = useChange(
    (body: { name: string; note: string }) => ask<{ id: string }>("/machines", { body }),
    "shelf",
  );
  const make = (e: FormEvent) => {
    e.preventDefault();
    add.mutate({ name: name.trim(), note: "" }, { onSuccess: () => (setName(""), close()) });
  };
  return (
    <Modal opened={opened} onClose={close} title="New machine">
      <form onSubmit={make}>
        <div className="field text">
          <label className="name" htmlFor="machine-name">
            Name
          </label>
          <div className="box">
            <input
              id="machine-name"
              value={name}
              maxLength={120}
              onChange={(e) => setName(e.target.value)}
              data-autofocus
            />
          </div>
        </div>
        {add.error && <p className="signal small">{add.error.message}</p>}
        <p style={{ marginTop: 12 }}>
          <button className="act main" disabled={!name.trim() || add.isPending}>
            Put it on the shelf
          </button>
        </p>
      </form>
    </Modal>
  );
}

function NewAxis({ machine, opened, close }: { machine: ShelfMachine; opened: boolean; close: () => void }) {
  const [name, setName] = useState("");
  const [layout, setLayout] = useState("carriage_loop");
  const [refused, setRefused] = useState<Refusal | Error | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const open = (answer: { id: string }) => navigate(`/axis/${answer.id}/aim`);
  const add = useChange(
    (body: { name: string; layout: string }) => ask<{ id: string }>(`/machines/${machine.id}/axes`, { body }),
    "shelf",
  );
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      open(await ask<{ id: string }>(`/machines/${machine.id}/import`, { text: await chosen.text() }));
    } catch (error) {
      setRefused(error as Error);
    }
  };
  return (
    <Modal opened={opened} onClose={close} title={`An axis for ${machine.name}`} size={940}>
      <form
        onSubmit={(e) => (
          e.preventDefault(),
          add.mutate({ name: name.trim(), layout }, { onSuccess: open, onError: setRefused })
        )}
      >
        <div className="field text">
          <label className="name" htmlFor="axis-name">
            Name
          </label>
          <div className="box">
            <input
              id="axis-name"
              value={name}
              maxLength={120}
              onChange={(e) => setName(e.target.value)}
              data-autofocus
            />
          </div>
        </div>
        <p style={{ display: "flex", gap: 10, margin: "12px 0" }}>
          <button className="act main" disabled={!name.trim() || add.isPending}>
            Begin the axis
          </button>
          <button type="button" className="act" onClick={() => file.current?.click()}>
            Open a design file
          </button>
        </p>
        {opened && <LayoutChooser chosen={layout} choose={(l) => setLayout(l.key)} />}
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="Design file"
          tabIndex={-1}
          onChange={(e) => void read(e.target.files?.[0])}
        />
        {refused && (
          <div className="note signal" role="alert">
            {refused instanceof Refusal && refused.problems.length > 0
              ? refused.problems.slice(0, 4).map((p) => (
                  <div key={p.field}>
                    <b>{p.field}</b> {p.message}. {p.remedy}
                  </div>
                ))
              : refused.message}
          </div>
        )}
      </form>
    </Modal>
  );
}
