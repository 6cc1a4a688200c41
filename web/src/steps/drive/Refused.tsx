/** What the program refused, with each field and its remedy; silent about what was stopped by hand. */
import { Refusal } from "../../api/client";

export function Refused({ error }: { error: Error | null }) {
  if (!error || error.name === "AbortError") return null;
  const problems = error instanceof Refusal ? error.problems : [];
  return (
    <p className="signal" role="alert">
      {problems.length
        ? problems.map((p) => `${p.field} ${p.message}. ${p.remedy}`).join(" ")
        : error.message}
    </p>
  );
}
