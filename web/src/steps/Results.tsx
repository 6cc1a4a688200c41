/** Every result of one part, by the beginning of its key. */
import { usePick } from "../design/context";
import { Figure } from "../frame/Figure";

export function Results({ of, most = 10 }: { of: string[]; most?: number }) {
  const keys = usePick((v) =>
    (v.report?.results ?? [])
      .filter((q) => of.some((p) => q.key.startsWith(p)))
      .map((q) => q.key)
      .slice(0, most)
      .join("|"),
  );
  if (!keys) return null;
  return (
    <div className="figs" style={{ marginTop: 12 }}>
      {keys.split("|").map((k) => (
        <Figure key={k} of={k} digits={4} />
      ))}
    </div>
  );
}
