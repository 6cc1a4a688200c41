/** A menu of things to do, under one button. */
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
    <Menu position="bottom-end">
      <Menu.Target>
        <Act>{label}</Act>
      </Menu.Target>
      <Menu.Dropdown>
        {groups.map((g) => (
          <div key={g} role="group" aria-label={g || label}>
            {g && <Menu.Label>{g}</Menu.Label>}
            {choices
              .filter((c) => (c.group ?? "") === g)
              .map((c) => (
                <Menu.Item key={c.key} onClick={() => choose(c.key)}>
                  {c.says}
                </Menu.Item>
              ))}
          </div>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
