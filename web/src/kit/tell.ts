/** What went wrong with a change is told at the page's edge and stays until it is read, unless it is said where the change was made. */
import { notifications } from "@mantine/notifications";
import { reasons } from "./Notice";

export function tell(error: Error) {
  if (error.name === "AbortError") return;
  notifications.show({
    id: error.message, // the same fault again is one notice
    title: "That did not work",
    message: reasons(error),
    autoClose: false,
    role: "alert",
    closeButtonProps: { "aria-label": "Close this notice" },
  });
}
