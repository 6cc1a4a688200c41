/** One result in large figures; opens to its formula, inputs and source. */
import { memo, useState } from "react";
import { Modal } from "@mantine/core";
import type { Quantity } from "../api/client";
import { useInputs } from "../api/queries";
import { resultOf, useBench, useNumbers, usePick, useShow, useView } from "../design/context";

export const Figure = memo(function Figure({
  of,
  label,
  digits = 3,
}: {
  of: string;
  label?: string;
  digits?: number;
}) {
  const { session } = useBench();
  const show = useShow();
  const [open, setOpen] = useState(false);
  // Drawn anew only when its own number changes; the rest is read when that happens, or when it is opened.
  const known = usePick((v) => resultOf(v.report, of)?.value);
  const q = resultOf(session.get().report, of);
  if (!q || known === undefined) return null;
  const { text, unit, both } = show(q.value, q.unit, digits);
  return (
    <div className="fig">
      <button
        onClick={() => setOpen(true)}
        title={q.value === null ? `lacks ${q.missing.join(", ")}` : both}
        data-result={of}
        data-value={q.value ?? ""}
      >
        <div className="name">{label ?? q.label}</div>
        <div className="val">
          {q.value === null ? "unknown" : text}
          {q.value !== null && <small>{unit}</small>}
        </div>
      </button>
      {open && (
        <Modal opened onClose={() => setOpen(false)} title={q.label} size="lg">
          <Opened q={q} />
        </Modal>
      )}
    </div>
  );
});

export function Opened({ q }: { q: Quantity }) {
  const { find, show } = useNumbers();
  const { design } = useView();
  const inputs = useInputs(design, q);
  const value = show(q.value, q.unit, 5);
  return (
    <>
      <p className="equation">{q.equation}</p>
      <p>
        {q.value === null ? (
          <span className="signal">Unknown: lacks {q.missing.join(", ")}</span>
        ) : (
          <>
            = <b className="num">{value.text}</b> {value.unit}
          </>
        )}
      </p>
      <dl className="inputs">
        {inputs.data?.map((i) => {
          const from = find(i.ref);
          const got = show(i.value, i.unit, 5);
          return (
            <div key={i.name} style={{ display: "contents" }}>
              <dt>
                {i.name.replaceAll("_", " ")}
                {from ? ` — ${from.label}` : ""}
              </dt>
              <dd>
                {got.text} {got.unit}
              </dd>
              {(i.source_kind || i.ref) && (
                <div className="src">
                  {from ? "worked out" : [i.source_kind, i.source].filter(Boolean).join(": ")}
                </div>
              )}
            </div>
          );
        })}
      </dl>
      <p className="small quiet" style={{ marginTop: 6 }}>
        Source: {q.source_kind}
        {q.source ? ` — ${q.source}` : ""}
      </p>
    </>
  );
}
