/** One result in large figures; opens to its formula, inputs and source. */
import { memo, useState } from "react";
import { UnstyledButton } from "@mantine/core";
import type { Quantity } from "../api/client";
import { useOpened } from "../api/queries";
import { resultOf, useBench, useNumbers, usePick, useShow, useView } from "../design/context";
import { Dialog } from "../kit/Dialog";
import { Fetched } from "../kit/Fetched";
import { FigFace } from "../kit/sheets";
import { Tip } from "../kit/Tip";
import css from "./figure.module.css";

export const Figure = memo(function Figure({
  of,
  label,
  digits = 3,
  cents,
}: {
  of: string;
  label?: string;
  digits?: number;
  /** An amount of money: to the cent. */
  cents?: boolean;
}) {
  const { session } = useBench();
  const show = useShow();
  const [open, setOpen] = useState(false);
  // Drawn anew only when its own number changes; the rest is read when that happens, or when it is opened.
  const known = usePick((v) => resultOf(v.report, of)?.value);
  const q = resultOf(session.get().report, of);
  if (!q || known === undefined) return null;
  const { text, unit, both } = show(q.value, q.unit, digits);
  const unknown = q.value === null;
  return (
    <div>
      <Tip says={unknown ? `lacks ${q.missing.join(", ")}` : both}>
        <UnstyledButton
          className={css.face}
          onClick={() => setOpen(true)}
          data-result={of}
          data-value={q.value ?? ""}
        >
          <FigFace
            name={label ?? q.label}
            value={unknown ? "unknown" : cents ? q.value!.toFixed(2) : text}
            unit={unknown ? "" : unit}
          />
        </UnstyledButton>
      </Tip>
      {open && (
        <Dialog opened close={() => setOpen(false)} title={q.label} wide="lg">
          <Opened q={q} />
        </Dialog>
      )}
    </div>
  );
});

export function Opened({ q }: { q: Quantity }) {
  const { find, show } = useNumbers();
  const { design } = useView();
  const opened = useOpened(design, q);
  const value = show(q.value, q.unit, 5);
  return (
    <>
      {opened.data && <p className={css.equation}>{opened.data.equation}</p>}
      <p>
        {q.value === null ? (
          <span className="signal">Unknown: lacks {q.missing.join(", ")}</span>
        ) : (
          <>
            = <b className="num">{value.text}</b> {value.unit}
          </>
        )}
      </p>
      <Fetched of={opened} what="what it is worked out from" waiting={null}>
        {(found) => (
          <dl className={css.inputs}>
            {(found.inputs ?? []).map((i) => {
              const from = find(i.ref);
              const got = show(i.value, i.unit, 5);
              return (
                <div key={i.name} className={css.input}>
                  <dt>
                    {i.name.replaceAll("_", " ")}
                    {from ? ` — ${from.label}` : ""}
                  </dt>
                  <dd className={css.value}>{got.said}</dd>
                  {(i.source_kind || i.ref) && (
                    <dd className={css.source}>
                      {from ? "worked out" : [i.source_kind, i.source].filter(Boolean).join(": ")}
                    </dd>
                  )}
                </div>
              );
            })}
          </dl>
        )}
      </Fetched>
      {opened.data?.source_kind && (
        <p className={css.from}>
          Source: {[opened.data.source_kind, opened.data.source].filter(Boolean).join(" — ")}
        </p>
      )}
    </>
  );
}
