/** A menu of things to do, under one button. */
import { Fragment } from "react";
import { Menu } from "@mantine/core";
import { Act } from "./Act";

export interface Choice {
  key: string;
  says: string;
  /** The heading it stands under. */
  group?: string;
}

export function Choices({
  label,
  choices,
  choose,
}: {
  label: string;
  choices: readonly Choice[];
  choose: (key: string) => void;
}) {
  const groups = [...new Set(choices.map((c) => c.group ?? ""))];
  return (
    <Menu position="bottom-end" withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <Act>{label}</Act>
      </Menu.Target>
      <Menu.Dropdown>
        {groups.map((g) => (
          <Fragment key={g}>
            {g && <Menu.Label>{g}</Menu.Label>}
            {choices
              .filter((c) => (c.group ?? "") === g)
              .map((c) => (
                <Menu.Item key={c.key} aria-label={`${c.says} ${g}`.trim()} onClick={() => choose(c.key)}>
                  {c.says}
                </Menu.Item>
              ))}
          </Fragment>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
