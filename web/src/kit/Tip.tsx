/** A few words about what the pointer or the focus rests on. */
import type { ReactElement } from "react";
import { Tooltip } from "@mantine/core";

export const Tip = ({ says, children }: { says: string; children: ReactElement }) =>
  says ? (
    <Tooltip label={says} openDelay={350}>
      {children}
    </Tooltip>
  ) : (
    children
  );
