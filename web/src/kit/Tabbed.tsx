/** Several pages in one place, a tab each; arrow keys go along them, and a page is made when it is first opened. */
import { Suspense, type ReactNode } from "react";
import { Tabs } from "@mantine/core";
import { Guard } from "./Guard";
import { Waiting } from "./Fetched";
import css from "./tabbed.module.css";

interface TabPage {
  key: string;
  name: string;
  says: string;
  body: ReactNode;
}

export function Tabbed({
  label,
  pages,
  on,
  choose,
}: {
  label: string;
  pages: readonly TabPage[];
  on: string;
  choose: (key: string) => void;
}) {
  return (
    <Tabs value={on} onChange={(key) => key && choose(key)} keepMounted={false}>
      <Tabs.List aria-label={label}>
        {pages.map((p) => (
          <Tabs.Tab key={p.key} value={p.key}>
            {p.name}
          </Tabs.Tab>
        ))}
        <span className={css.says}>{pages.find((p) => p.key === on)?.says}</span>
      </Tabs.List>
      {pages.map((p) => (
        <Tabs.Panel key={p.key} value={p.key}>
          <Guard what={`“${p.name}”`} at={p.key}>
            <Suspense fallback={<Waiting>{p.name}…</Waiting>}>{p.body}</Suspense>
          </Guard>
        </Tabs.Panel>
      ))}
    </Tabs>
  );
}
