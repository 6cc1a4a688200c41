/** A button. One a screen is the main action; the rest are ruled, and those that only reveal or remove are plain words. */
import type { ComponentProps, MouseEvent, ReactNode } from "react";
import { Button } from "@mantine/core";

interface Look {
  main?: boolean;
  plain?: boolean;
  big?: boolean;
}
interface Props extends Look, Omit<ComponentProps<"button">, "color" | "style"> {
  /** What it began is under way. */
  busy?: boolean;
  /** Pressing it fast is meant each time: one step back, one row more. Elsewhere a second click is the same click. */
  fast?: boolean;
}

const dress = ({ main, plain, big }: Look) =>
  ({
    variant: main ? "filled" : plain ? "subtle" : "default",
    size: big ? "xs" : "compact-xs",
  }) as const;

export function Act({ main, plain, big, busy = false, fast, onClick, type = "button", ...rest }: Props) {
  const again = (e: MouseEvent) => busy || (!fast && e.detail > 1);
  return (
    <Button
      {...dress({ main, plain, big })}
      loading={busy}
      type={type}
      onClick={(e) => (again(e) ? e.preventDefault() : onClick?.(e))}
      {...rest}
    />
  );
}

/** An action that is an address: a file to fetch, a page to go to. */
export function ActLink({
  main,
  plain,
  big,
  href,
  download,
  children,
}: Look & { href: string; download?: string; children: ReactNode }) {
  return (
    <Button {...dress({ main, plain, big })} component="a" href={href} download={download}>
      {children}
    </Button>
  );
}
