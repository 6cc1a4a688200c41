/** Arrow keys along the rows of a list: those that can hold the focus, within whatever hears the keys. */
import type { KeyboardEvent } from "react";

export function walkRows(e: KeyboardEvent<HTMLElement>) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
  const rows = [...e.currentTarget.querySelectorAll<HTMLElement>("tr[tabindex]")];
  if (!by || rows.length === 0) return;
  e.preventDefault();
  const at = rows.findIndex((row) => row.contains(document.activeElement));
  rows[Math.max(0, Math.min(rows.length - 1, at + by))]?.focus();
}
