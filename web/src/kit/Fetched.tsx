/** What is fetched from the program: on its way, failed, there, or there but no longer of the present. */
import type { ReactNode } from "react";
import { Progress } from "@mantine/core";
import type { UseQueryResult } from "@tanstack/react-query";
import { BASE, Refusal } from "../api/client";
import { ActLink } from "./Act";
import { moment } from "../units/format";
import css from "./fetched.module.css";
import { Failed, Notice, reasons } from "./Notice";
import { capital } from "../units/words";

type Query<T> = Pick<
  UseQueryResult<T>,
  "data" | "error" | "isPlaceholderData" | "dataUpdatedAt" | "isFetching"
> & { refetch: () => unknown };

interface Props<T> {
  of: Query<T>;
  /** What it is, as in "The parts drawer cannot be shown". */
  what: string;
  /** What stands there while it is on its way; nothing at all where `null`. */
  waiting?: ReactNode;
  children: (data: T) => ReactNode;
}

export function Fetched<T>({ of, what, waiting, children }: Props<T>) {
  const title = `${capital(what)} cannot be shown`;
  const again = () => void of.refetch();
  if (of.data === undefined) {
    if (of.error instanceof Refusal && of.error.status === 404) return <NotHere what={what} />;
    if (of.error) return <Failed of={of.error} title={title} again={again} />;
    return waiting === undefined ? <Waiting>Fetching {what}…</Waiting> : waiting;
  }
  return (
    <>
      {of.error && (
        <Notice
          title={`${capital(what)} may be out of date`}
          actions={[{ says: "Try again", run: again, busy: of.isFetching }]}
        >
          What stands here is of {moment(of.dataUpdatedAt)}. {reasons(of.error)}
        </Notice>
      )}
      <Stale when={of.isPlaceholderData || of.error !== null}>{children(of.data)}</Stale>
    </>
  );
}

/** An address that leads to nothing, and the way on. */
export const NotHere = ({ what }: { what: string }) => (
  <Notice title={`${capital(what)} is not here`} grave={false}>
    It was taken off the shelf, or the address is not right. What was taken off stands at the foot of the
    shelf. <ActLink href={`${BASE}/`}>To the shelf</ActLink>
  </Notice>
);

/** What belongs to an earlier question while the answer to the present one is on its way. */
export const Stale = ({ when, children }: { when: boolean; children: ReactNode }) => (
  <div className={css.there} data-stale={when}>
    {children}
  </div>
);

/** Something is on its way; with a share of it done where that is known. */
export function Waiting({ children, done }: { children: ReactNode; done?: number }) {
  return (
    <div className={css.waiting} role="status">
      {done !== undefined && (
        <Progress className={css.progress} value={done * 100} aria-label="How much is done" />
      )}
      <span>{children}</span>
    </div>
  );
}
