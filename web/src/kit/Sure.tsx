/** An action that cannot be taken back: it asks first. */
import { useState } from "react";
import { Act } from "./Act";
import { Dialog } from "./Dialog";
import { Line } from "./sheets";

interface Props {
  /** On the button, and again on the one that does it. */
  label: string;
  /** The question. */
  title: string;
  says: string;
  busy?: boolean;
  run: () => void;
}

export function Sure({ label, title, says, busy, run }: Props) {
  const [asking, setAsking] = useState(false);
  const close = () => setAsking(false);
  return (
    <>
      <Act plain busy={busy} onClick={() => setAsking(true)}>
        {label}
      </Act>
      <Dialog opened={asking} close={close} title={title} wide="sm">
        <p>{says}</p>
        <Line foot>
          <Act big main onClick={() => (close(), run())}>
            {label}
          </Act>
          <Act big data-autofocus onClick={close}>
            Leave it
          </Act>
        </Line>
      </Dialog>
    </>
  );
}
