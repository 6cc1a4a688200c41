/** A sheet over the page; Escape closes it, and the focus goes back to where it was. */
import type { ReactNode } from "react";
import { Modal } from "@mantine/core";

export function Dialog({
  title,
  opened,
  close,
  wide,
  children,
}: {
  title: string;
  opened: boolean;
  close: () => void;
  wide?: "sm" | "lg" | "xl" | number;
  children: ReactNode;
}) {
  return (
    <Modal opened={opened} onClose={close} title={title} size={wide}>
      {children}
    </Modal>
  );
}
