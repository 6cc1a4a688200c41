/** A motor of unknown make: what it may be, from what can be seen and measured, and into the drawer with the safe end of each range. */
import { useState } from "react";
import { act, ask, type UnknownMotor } from "../api/client";
import { useForm, useStart } from "../api/queries";
import { FreeNumber } from "../fields/FreeNumber";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Pick } from "../kit/inputs";
import { Failed } from "../kit/Notice";
import { Fields, Line, Num, Table } from "../kit/sheets";
import { number } from "../units/format";

const FIELDS = [
  ["length_mm", "Length of the body", "length", 40],
  ["coil_ohm", "Ohms across one coil", "resistance", 1.6],
  ["shaft_mm", "Shaft", "length", 5],
] as const;
type Field = (typeof FIELDS)[number][0];

export function Unknown() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Act onClick={() => setOpen(true)}>A motor of unknown make…</Act>
      <Dialog opened={open} close={() => setOpen(false)} title="A motor of unknown make" wide="lg">
        <Guess close={() => setOpen(false)} />
      </Dialog>
    </>
  );
}

function Guess({ close }: { close: () => void }) {
  const start = useStart().data;
  const frames = Object.entries(start?.frames ?? {});
  const [frame, setFrame] = useState("NEMA 17");
  const [wires, setWires] = useState("4");
  const [numbers, setNumbers] = useState<Record<Field, number | null>>({
    length_mm: 40,
    coil_ohm: 1.6,
    shaft_mm: 5,
  });
  const work = useForm(() =>
    ask<UnknownMotor>("/drawer/unknown", { body: { frame, wires: Number(wires), ...numbers } }),
  );
  const keep = useForm(
    (m: UnknownMotor) =>
      act("/drawer", {
        body: {
          kind: "stepper",
          name: m.name,
          data: m.data,
          quantity: 1,
          source_kind: "estimate",
          source: m.source,
        },
      }),
    "drawer",
  );
  const found = work.data;
  return (
    <div data-unknown>
      <p className="quiet small">
        Measure the flange and the body without its shaft; put an ohmmeter across two wires that show a few
        ohms. With six wires take a middle tap and one end.
      </p>
      <Fields>
        <Pick
          label="Frame, side of the flange"
          value={frame}
          options={frames.map(([f, side]) => ({ value: f, label: `${f}, ${side} mm` }))}
          onValue={setFrame}
        />
        {start &&
          FIELDS.map(([field, label, dimension, first]) => (
            <FreeNumber
              key={field}
              label={label}
              dimension={dimension}
              units={start.units}
              name={field}
              start={String(first)}
              onValue={(v) => setNumbers((n) => ({ ...n, [field]: v }))}
            />
          ))}
        <Pick label="Wires" value={wires} options={["4", "5", "6", "8"]} onValue={setWires} />
      </Fields>
      <Line foot>
        <Act
          main
          disabled={Object.values(numbers).some((v) => v === null)}
          busy={work.isPending}
          onClick={() => work.mutate(undefined)}
        >
          What may it be?
        </Act>
      </Line>
      <Failed of={work.error} title="It cannot be said" />
      {found && (
        <>
          <Table
            columns={[
              { name: <>{found.name}</> },
              { name: "Lowest", right: true },
              { name: "Likely", right: true },
              { name: "Highest", right: true },
              { name: "On the safe side", right: true },
            ]}
            dense
          >
            {found.ranges.map((r) => (
              <tr key={r.name} data-range={r.name}>
                <td>{r.label}</td>
                {[r.low, r.likely, r.high, r.cautious].map((v, i) => (
                  <Num key={i}>
                    {number(v, 3)} {r.unit}
                  </Num>
                ))}
              </tr>
            ))}
          </Table>
          {found.says.map((s) => (
            <p key={s} className="small">
              {s}
            </p>
          ))}
          <Line foot>
            <Act main busy={keep.isPending} onClick={() => keep.mutate(found, { onSuccess: close })}>
              Put it in the drawer with the safe values
            </Act>
          </Line>
          <Failed of={keep.error} title="It is not in the drawer" />
        </>
      )}
    </div>
  );
}
