"""The door of the command line: nothing is loaded before Ctrl+C is looked after, so that no traceback reaches
a terminal.
"""

from __future__ import annotations

STOPPED = 130  # as shells have it for a program ended by Ctrl+C


def main(argv: list[str] | None = None) -> int:
    """Run a command; 0 when it went well, 2 when the input was refused, 130 when it was stopped."""
    try:
        from .commands import run

        return run(argv)
    except KeyboardInterrupt:
        return STOPPED


if __name__ == "__main__":
    raise SystemExit(main())
