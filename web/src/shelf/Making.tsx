/** What is made on the shelf: a machine, a name for it, an axis from a layout or from a file. */
import { useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { ask, Refusal, type ShelfMachine } from "../api/client";
import { anew, client, useForm } from "../api/queries";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { OpenFile, Words } from "../kit/inputs";
import { Failed, Notice } from "../kit/Notice";
import { Line } from "../kit/sheets";
import { LayoutChooser } from "../steps/aim/LayoutChooser";

interface Props {
  opened: boolean;
  close: () => void;
}

export function NewMachine({ opened, close }: Props) {
  const [name, setName] = useState("");
  const add = useForm(
    (body: { name: string; note: string }) => ask<{ id: string }>("/machines", { body }),
    "shelf",
  );
  const make = (e: FormEvent) => {
    e.preventDefault();
    add.mutate({ name: name.trim(), note: "" }, { onSuccess: () => (setName(""), close()) });
  };
  return (
    <Dialog opened={opened} close={close} title="New machine">
      <form onSubmit={make}>
        <Words label="Name" value={name} most={120} onValue={setName} focused />
        <Failed of={add.error} title="It is not on the shelf" />
        <Line foot>
          <Act big main type="submit" disabled={!name.trim()} busy={add.isPending}>
            Put it on the shelf
          </Act>
        </Line>
      </form>
    </Dialog>
  );
}

export function Rename({ machine, opened, close }: Props & { machine: ShelfMachine }) {
  const [name, setName] = useState(machine.name);
  const [note, setNote] = useState(machine.note);
  const save = useForm(
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
      onError: () => void anew(client, "shelf"),
    });
  };
  const other = save.error instanceof Refusal && save.error.status === 409;
  return (
    <Dialog opened={opened} close={close} title={`Rename ${machine.name}`}>
      <form onSubmit={submit}>
        <Words label="Name" value={name} most={120} onValue={setName} focused />
        <Words label="Note" value={note} most={2000} rows={3} onValue={setNote} />
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
          <Act big onClick={close}>
            Leave it
          </Act>
        </Line>
      </form>
    </Dialog>
  );
}

export function NewAxis({ machine, opened, close }: Props & { machine: ShelfMachine }) {
  return (
    <Dialog opened={opened} close={close} title={`An axis for ${machine.name}`} wide={940}>
      <Begin machine={machine} />
    </Dialog>
  );
}

function Begin({ machine }: { machine: ShelfMachine }) {
  const [name, setName] = useState("");
  const [layout, setLayout] = useState("carriage_loop");
  const navigate = useNavigate();
  const made = useForm(
    (how: { name: string; layout: string } | { text: string }) =>
      "text" in how
        ? ask<{ id: string }>(`/machines/${machine.id}/import`, { text: how.text })
        : ask<{ id: string }>(`/machines/${machine.id}/axes`, { body: how }),
    "shelf",
  );
  const make = (how: Parameters<typeof made.mutate>[0]) =>
    made.mutate(how, { onSuccess: ({ id }) => void navigate(`/axis/${id}/aim`) });
  return (
    <form onSubmit={(e) => (e.preventDefault(), make({ name: name.trim(), layout }))}>
      <Words label="Name" value={name} most={120} onValue={setName} focused />
      <Line foot>
        <Act big main type="submit" disabled={!name.trim()} busy={made.isPending}>
          Begin the axis
        </Act>
        <OpenFile big label="Design file" accept=".json,application/json" onText={(text) => make({ text })}>
          Open a design file
        </OpenFile>
      </Line>
      <Failed of={made.error} title="The axis is not made" />
      <LayoutChooser chosen={layout} choose={setLayout} />
    </form>
  );
}
