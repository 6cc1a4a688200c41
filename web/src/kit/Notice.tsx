/** A notice across the page: what is the matter, and what can be done about it. */
import type { ComponentProps, ReactNode } from "react";
import { Alert } from "@mantine/core";
import { Refusal, type Problem } from "../api/client";
import { Act } from "./Act";
import css from "./notice.module.css";

interface Props extends Omit<ComponentProps<"div">, "title" | "className" | "style"> {
  title: ReactNode;
  /** Something is wrong or at risk; otherwise it only tells. */
  grave?: boolean;
  actions?: { says: string; run: () => void; main?: boolean; busy?: boolean }[];
}

export function Notice({ title, children, grave = true, actions = [], ...rest }: Props) {
  return (
    <Alert title={title} role={grave ? "alert" : "status"} data-grave={grave} {...rest}>
      <div className={css.body}>
        <div>{children}</div>
        {actions.length > 0 && (
          <div className={css.actions}>
            {actions.map((a) => (
              <Act key={a.says} big main={a.main} busy={a.busy} onClick={a.run}>
                {a.says}
              </Act>
            ))}
          </div>
        )}
      </div>
    </Alert>
  );
}

/** What is wrong with one field, with its limit and what to do. */
export function told(p: Problem): string {
  const limit = p.limit ? ` (limit ${`${p.limit} ${p.unit}`.trim()})` : "";
  return `${p.message}${limit}. ${p.remedy}`;
}

/** What is the matter, in the program's words: every field that was refused with its remedy, else the whole message. */
export function reasons(error: Error): ReactNode {
  if (!(error instanceof Refusal) || error.problems.length === 0) return error.message;
  return error.problems.slice(0, MOST).map((p) => (
    <div key={p.field + p.message}>
      <b>{p.field.split(".").at(-1)?.replaceAll("_", " ")}</b> {told(p)}
    </div>
  ));
}
const MOST = 4;

/** What went wrong with something that was asked for or done; silent about what was stopped by hand. */
export function Failed({
  of,
  title = "That did not work",
  again,
}: {
  of: Error | null | undefined;
  title?: string;
  again?: () => void;
}) {
  if (!of || of.name === "AbortError") return null;
  return (
    <Notice title={title} actions={again ? [{ says: "Try again", run: again }] : []}>
      {reasons(of)}
    </Notice>
  );
}
