/** Test moves within the soft limits: a file to run, and the same as commands to type. */
import { useState } from "react";
import { type MovesAnswer, type Wanted } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { FreeNumber } from "../../fields/FreeNumber";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Pick } from "../../kit/inputs";
import { saveAs } from "../../kit/save";
import { Fields, Fold, Line, Sheet, Table } from "../../kit/sheets";
import { number } from "../../units/format";

type Kind = NonNullable<Wanted["kind"]>;
type Letter = NonNullable<Wanted["letter"]>;

const NAMES: Record<Kind, string> = {
  strokes: "strokes to measure",
  reversals: "reversals",
  ripple: "a ripple, slow and twice as fast",
  ramp: "a ramp of speeds",
  corners: "corners of a rectangle",
};
const LETTERS: readonly Letter[] = ["X", "Y", "Z", "A", "B", "C", "U", "V", "W"];

/** What it offers, in a line; its fields are made when somebody opens it. */
export function Moves(props: { kinds: readonly Kind[]; angle: boolean }) {
  return (
    <Sheet title="Test moves" note="within the soft limits, as a file or to type" data-moves>
      <Fold title={`Make a test: ${props.kinds.map((k) => NAMES[k]).join(", ")}`}>
        {() => <Make {...props} />}
      </Fold>
    </Sheet>
  );
}

function Make({ kinds, angle }: { kinds: readonly Kind[]; angle: boolean }) {
  const { design } = useView();
  const { start } = useBench();
  const { show } = useNumbers();
  const [kind, setKind] = useState<Kind>("strokes");
  const [letter, setLetter] = useState<Letter>(angle ? "A" : "X");
  const [other, setOther] = useState<Letter>("Y");
  const [begin, setBegin] = useState<number | null>(null);
  const [length, setLength] = useState<number | null>(null);
  const [across, setAcross] = useState<number | null>(null);
  const wanted: Wanted = { kind, letter, other, begin, length, across, speed: null };
  const made = useAsked<MovesAnswer>("moves", design, { wanted }, true, true);
  const dimension = angle ? "angle" : "length";
  const place = (label: string, name: string, set: (v: number | null) => void, signed = false) => (
    <FreeNumber
      label={label}
      dimension={dimension}
      name={name}
      units={start.units}
      orNone
      signed={signed}
      onValue={set}
    />
  );
  return (
    <>
      <Fields>
        <Pick
          label="Which test"
          value={kind}
          options={kinds.map((value) => ({ value, label: NAMES[value] }))}
          onValue={(v) => setKind(v as Kind)}
        />
        <Pick
          label="Letter of this axis"
          value={letter}
          options={LETTERS}
          onValue={(v) => setLetter(v as Letter)}
        />
        {kind === "corners" && (
          <Pick
            label="Letter across"
            value={other}
            options={LETTERS}
            onValue={(v) => setOther(v as Letter)}
          />
        )}
        {place("Begin at", "move-begin", setBegin, true)}
        {place("Length", "move-length", setLength)}
        {kind === "corners" && place("Across", "move-across", setAcross)}
      </Fields>
      <Fetched of={made} what="the moves" waiting={null}>
        {({ program: p, lines, text }) => (
          <>
            <p className="small" data-moves-room>
              {p.name}: from <b className="num">{show(p.begin, p.unit, 4).said}</b> by{" "}
              <b className="num">{show(p.length, p.unit, 4).said}</b> at{" "}
              <b className="num">{show(p.speed, `${p.unit}/s`).said}</b>; the soft limits are{" "}
              {(p.room as number[]).map((r) => show(r, p.unit, 4).said).join(" to ")}. {p.reads}
            </p>
            <p className="small signal">
              Home it first, hands off, the emergency stop within reach; each M0 waits until you go on.
            </p>
            <Line>
              <Act main big onClick={() => saveAs(`${design.name} ${p.kind}.nc`, text)}>
                Save the file
              </Act>
            </Line>
            <Fold title={`Commands to type, ${number(lines.length, 3)}`}>
              {() => (
                <Table dense columns={["command", "what for"]} tall={260} label="Commands to type">
                  {lines.map((l, i) => (
                    <tr key={i}>
                      <td className="num">{l.code}</td>
                      <td className="small">{l.says}</td>
                    </tr>
                  ))}
                </Table>
              )}
            </Fold>
          </>
        )}
      </Fetched>
    </>
  );
}
