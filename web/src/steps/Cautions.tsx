/** Cautions and notes of the present report that belong to one step. */
import { usePick } from "../design/context";
import { Caution, Note } from "../kit/sheets";

export function Cautions({ step }: { step: string }) {
  const report = usePick((v) => v.report);
  return (
    <>
      {report?.notes
        .filter((n) => n.step === step)
        .map((n) => (
          <Note key={n.says}>{n.says}</Note>
        ))}
      {report?.cautions
        .filter((c) => c.step === step)
        .map((c) => (
          <Caution key={c.says}>{c.says}</Caution>
        ))}
    </>
  );
}
