/** Which belt a piece in the hand is: measured over some of its pitches, compared by the look of its teeth. */
import { useState } from "react";
import { ask, type WhichBelt as Answer } from "../api/client";
import { useForm, useStart } from "../api/queries";
import { useSystem } from "../design/context";
import { FreeNumber } from "../fields/FreeNumber";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Pick } from "../kit/inputs";
import { Failed } from "../kit/Notice";
import { Fields, Line, Num, Table } from "../kit/sheets";
import { quantity } from "../units/format";
import { VerdictMark } from "../frame/verdict";
import css from "./whichbelt.module.css";

type Form = Answer["found"][number]["form"];
const UNSURE = "not sure";
const FORMS: Form[] = ["trapezoid", "wide trapezoid", "round, upright flanks", "half round"];

/** `take` says what is done with a profile that was found; without it there is only the answer. */
export function WhichBelt({ take }: { take?: (key: string) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Act onClick={() => setOpen(true)}>Which belt is this?…</Act>
      <Dialog opened={open} close={() => setOpen(false)} title="Which belt is this?" wide={820}>
        <Measure take={take && ((key) => (take(key), setOpen(false)))} />
      </Dialog>
    </>
  );
}

function Measure({ take }: { take: ((key: string) => void) | undefined }) {
  const start = useStart().data;
  const [system] = useSystem();
  const [over, setOver] = useState<number | null>(null);
  const [pitches, setPitches] = useState<number | null>(10);
  const [form, setForm] = useState<string>(UNSURE);
  const work = useForm(() =>
    ask<Answer>("/drawer/belt", {
      body: { over_mm: over, pitches, form: form === UNSURE ? null : form },
    }),
  );
  const found = work.data;
  const ready = over !== null && pitches !== null && Number.isInteger(pitches);
  if (!start) return null;
  const said = (mm: number, digits = 4) => quantity(mm, "mm", start.units, system, digits).said;
  return (
    <form
      className={css.ask}
      data-which-belt
      onSubmit={(e) => (e.preventDefault(), ready && work.mutate(undefined))}
    >
      <p className="quiet small">
        Lay the belt straight. Measure from an edge of one tooth to the same edge of the tenth tooth after it:
        ten gaps, not ten teeth.
      </p>
      <Fields>
        <FreeNumber
          label="Length over them"
          dimension="length"
          units={start.units}
          name="over_mm"
          onValue={setOver}
        />
        <FreeNumber
          label="Over how many pitches"
          dimension="count"
          units={start.units}
          name="pitches"
          start="10"
          onValue={setPitches}
        />
        <Pick label="Its teeth look" value={form} options={[UNSURE, ...FORMS]} onValue={setForm} />
      </Fields>
      <Line foot>
        <Act main type="submit" disabled={!ready} busy={work.isPending}>
          Which is it?
        </Act>
      </Line>
      <Failed of={work.error} title="It cannot be said" />
      {found && (
        <>
          <p role="status">
            <b data-which-says>{found.says}</b>{" "}
            <span className="quiet small">
              A pitch of {said(found.pitch_mm)}, read to within {said(found.within_mm, 2)} in all.
            </span>
          </p>
          <Table
            columns={[
              { name: "Teeth, all drawn to one scale" },
              { name: "Belt" },
              { name: "Nominal length", right: true },
              { name: "Off by", right: true },
              { name: "Thick", right: true },
              { name: "Sold in widths of" },
              ...(take ? [{ name: "" }] : []),
            ]}
            dense
          >
            {found.found.map((c) => (
              <tr key={c.key} data-candidate={c.key} data-likely={c.fits && c.looks}>
                <td>
                  <Teeth outline={c.outline} />
                </td>
                <td>
                  {c.name}
                  <br />
                  <span className="quiet small">{c.form}</span>
                </td>
                <Num>{said(c.measures_mm)}</Num>
                <Num>
                  {said(c.off_mm, 2)} <VerdictMark verdict={c.fits ? "holds" : "short"} word={false} />
                </Num>
                <Num>{said(c.thickness_mm, 3)}</Num>
                <td className="small">
                  <span className="num">{c.widths_mm.join(", ")}</span> mm
                </td>
                {take && (
                  <td>
                    <Act aria-label={`Take ${c.name}`} onClick={() => take(c.key)}>
                      Take it
                    </Act>
                  </td>
                )}
              </tr>
            ))}
          </Table>
        </>
      )}
    </form>
  );
}

const SCALE = 5; // px for a millimetre
const LONG = 26; // mm shown, whatever the pitch
const DEEP = 7;

/** A piece of belt from the side, teeth down. */
function Teeth({ outline }: { outline: Answer["found"][number]["outline"] }) {
  const points = outline.map(([x = 0, y = 0]) => `${x.toFixed(2)},${(y + 3).toFixed(2)}`).join(" ");
  return (
    <svg
      className={css.teeth}
      viewBox={`0 0 ${LONG} ${DEEP}`}
      width={LONG * SCALE}
      height={DEEP * SCALE}
      aria-hidden="true"
    >
      <polygon points={points} />
    </svg>
  );
}
