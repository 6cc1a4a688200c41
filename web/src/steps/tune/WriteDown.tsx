/** A reading goes into the log, where it is taken. */
import { useState, type ReactNode } from "react";
import type { LogBody } from "../../api/client";
import { useSent } from "../../design/typed";
import { Act } from "../../kit/Act";
import { Failed } from "../../kit/Notice";
import { Line } from "../../kit/sheets";
import { today } from "../log/today";
import { useWriting } from "../log/writing";

/** `reading` is null until there is one whose answer is known. */
export function WriteDown({
  reading,
  small,
  children,
}: {
  reading: LogBody["reading"] | null;
  small?: boolean;
  children?: ReactNode;
}) {
  const [logged, setLogged] = useState("");
  const sent = useSent();
  const write = useWriting();
  const key = JSON.stringify(reading);
  const save = () =>
    write.mutate(
      { on_date: today(), kind: "note", says: "", cost: null, reading },
      { onSuccess: () => (setLogged(key), sent()) },
    );
  return (
    <>
      <Line foot>
        <Act
          big={!small}
          main={!small}
          disabled={!reading || logged === key}
          busy={write.isPending}
          onClick={save}
        >
          Write it to the log
        </Act>
        {children}
        {reading && logged === key && <span role="status">Written down for {today()}.</span>}
      </Line>
      <Failed of={write.error} title="It is not written down" />
    </>
  );
}
