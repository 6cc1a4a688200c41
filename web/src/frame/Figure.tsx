/** One result in large figures; opens to its formula, inputs and source. */
import { useState } from "react";
import { Modal } from "@mantine/core";
import type { Quantity } from "../api/client";
import { useNumbers } from "../design/context";

export function Figure({ of, label, digits = 3 }: { of: string; label?: string; digits?: number }) {
  const { find, show } = useNumbers();
  const [open, setOpen] = useState(false);
  const q = find(of);
  if (!q) return null;
  const { text, unit, both } = show(q.value, q.unit, digits);
  return (
    <div className="fig">
      <button onClick={() => setOpen(true)} title={q.value === null ? `lacks ${q.missing.join(", ")}` : both} data-result={of} data-value={q.value ?? ""}>
        <div className="name">{label ?? q.label}</div>
        <div className="val">{q.value === null ? "unknown" : text}{q.value !== null && <small>{unit}</small>}</div>
      </button>
      <Modal opened={open} onClose={() => setOpen(false)} title={q.label} size="lg">
        <Opened q={q} />
      </Modal>
    </div>
  );
}

export function Opened({ q }: { q: Quantity }) {
  const { find, show } = useNumbers();
  const value = show(q.value, q.unit, 5);
  return (
    <>
      <p className="equation">{q.equation}</p>
      <p>{q.value === null ? <span className="signal">Unknown: lacks {q.missing.join(", ")}</span> : <>= <b className="num">{value.text}</b> {value.unit}</>}</p>
      <dl className="inputs">
        {q.inputs.map((i) => {
          const from = find(i.ref);
          const got = show(i.value, i.unit, 5);
          return (
            <div key={i.name} style={{ display: "contents" }}>
              <dt>{i.name.replaceAll("_", " ")}{from ? ` — ${from.label}` : ""}</dt>
              <dd>{got.text} {got.unit}</dd>
              {(i.source_kind || i.ref) && <div className="src">{from ? "worked out" : [i.source_kind, i.source].filter(Boolean).join(": ")}</div>}
            </div>
          );
        })}
      </dl>
      <p className="small quiet" style={{ marginTop: 6 }}>Source: {q.source_kind}{q.source ? ` — ${q.source}` : ""}</p>
    </>
  );
}
