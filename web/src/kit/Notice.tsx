/** A notice across the page: what is the matter, and what can be done about it. */
import type { ReactNode } from "react";
import { Alert, Button } from "@mantine/core";

interface Props {
  title: string;
  children?: ReactNode;
  /** Something is wrong or at risk; otherwise it only tells. */
  grave?: boolean;
  actions?: { says: string; run: () => void; main?: boolean; busy?: boolean }[];
}

export function Notice({ title, children, grave = true, actions = [] }: Props) {
  return (
    <Alert title={title} role={grave ? "alert" : "status"} data-grave={grave} mb={12}>
      <div className="notice-body">
        <div>{children}</div>
        {actions.length > 0 && (
          <div className="notice-actions">
            {actions.map((a) => (
              <Button
                key={a.says}
                variant={a.main ? "filled" : "default"}
                loading={a.busy ?? false}
                onClick={a.run}
              >
                {a.says}
              </Button>
            ))}
          </div>
        )}
      </div>
    </Alert>
  );
}
