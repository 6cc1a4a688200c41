/** Every result of one part, by the beginning of its key. */
import { usePick } from "../design/context";
import { Figure } from "../frame/Figure";
import { Figs } from "../kit/sheets";

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
    <Figs>
      {keys.split("|").map((k) => (
        <Figure key={k} of={k} digits={4} />
      ))}
    </Figs>
  );
}
