/** Cautions and notes of the present report that belong to one step. */
import { useView } from "../design/context";
import { Caution, Note } from "../kit/sheets";

export function Cautions({ step }: { step: string }) {
  const { report } = useView();
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
