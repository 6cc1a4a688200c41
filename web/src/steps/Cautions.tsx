/** Cautions and notes of the present report that belong to one step. */
import { useView } from "../design/context";

export function Cautions({ step }: { step: string }) {
  const { report } = useView();
  return (
    <>
      {report?.notes
        .filter((n) => n.step === step)
        .map((n) => (
          <p className="note" key={n.says}>
            {n.says}
          </p>
        ))}
      {report?.cautions
        .filter((c) => c.step === step)
        .map((c) => (
          <p className="caution" key={c.says}>
            {c.says}
          </p>
        ))}
    </>
  );
}
