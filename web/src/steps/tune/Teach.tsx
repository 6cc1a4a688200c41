/** What the readings teach: where they part from the design, which part is likeliest, and what to measure next. */
import type { Lesson } from "../../api/client";
import { useAsked } from "../../api/queries";
import { useBench, useNumbers, useView } from "../../design/context";
import { Act } from "../../kit/Act";
import { Fetched } from "../../kit/Fetched";
import { Acts, Num, Sheet, Table } from "../../kit/sheets";
import { number } from "../../units/format";
import { isTried, useLasts } from "./measured";

export function Teach({ telling }: { telling: readonly string[] }) {
  const { design } = useView();
  const last = useLasts(isTried);
  const readings = telling.flatMap((of) => {
    const kept = last.get(of)?.kept;
    return kept?.mean && kept.mean > 0
      ? [{ of, value: kept.mean, within: kept.within ?? null, load: kept.load ?? null }]
      : [];
  });
  const found = useAsked<Lesson>("teach", design, { readings }, readings.length > 0, true);
  if (readings.length === 0) return null;
  return (
    <Sheet
      title="What the readings teach"
      note="the last of each in the log, beside the design as it stands"
      data-teach
    >
      <Fetched of={found} what="what they teach">
        {(lesson) => <Told lesson={lesson} />}
      </Fetched>
    </Sheet>
  );
}

function Told({ lesson }: { lesson: Lesson }) {
  const { show } = useNumbers();
  const { session } = useBench();
  const { design } = useView();
  const keep = (changes: Record<string, unknown>) =>
    session.setAll({
      ...changes,
      measured: (design.measured ?? []).filter((m) => !(m.field in changes)),
    });
  const off = lesson.compared.some((c) => c.disagrees);
  return (
    <div aria-live="polite">
      <Table
        dense
        columns={[
          "Reading",
          { name: "read", right: true },
          { name: "the design predicts", right: true },
          { name: "refitted", right: true },
          "",
        ]}
      >
        {lesson.compared.map((c) => (
          <tr key={c.of} data-compared={c.of}>
            <td>{c.name}</td>
            <Num signal={c.disagrees}>{show(c.read, c.unit).said}</Num>
            <Num>{show(c.predicted, c.unit).said}</Num>
            <Num>{show(c.after, c.unit).said}</Num>
            <td className="small">{c.disagrees ? "disagrees" : "agrees"}</td>
          </tr>
        ))}
      </Table>
      <p className={off ? "signal" : ""} data-lesson={off ? "off" : "agrees"}>
        {lesson.says}
      </p>
      {lesson.suspects.length > 0 && (
        <Table
          dense
          columns={[
            "Would explain it alone",
            { name: "the design says", right: true },
            { name: "it would be", right: true },
            { name: "explains, %", right: true },
            "",
          ]}
        >
          {lesson.suspects.map((s) => (
            <tr key={s.path} data-suspected={s.path}>
              <td>{s.name}</td>
              <Num>{show(s.now, s.unit).said}</Num>
              <Num>{show(s.then, s.unit).said}</Num>
              <Num>{number(s.explains * 100, 2)}</Num>
              <Acts>
                <Act aria-label={`Keep ${s.name} as measured`} onClick={() => keep(s.changes)}>
                  Keep it
                </Act>
              </Acts>
            </tr>
          ))}
        </Table>
      )}
      {lesson.next_name && (
        <p className="small">
          To measure next: <b>{lesson.next_name.toLowerCase()}</b>; it tells most of what is still open.
        </p>
      )}
    </div>
  );
}
