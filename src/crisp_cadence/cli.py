"""The door of the command line: nothing is loaded before Ctrl+C is looked after, so that no traceback reaches
a terminal.
"""

from __future__ import annotations

import _signal  # type: ignore[import-not-found]  # built in: nothing is read for it

STOPPED = 130  # as shells have it for a program ended by Ctrl+C


def main(argv: list[str] | None = None) -> int:
    """Run a command; 0 when it went well, 2 when the input was refused, 130 when it was stopped."""
    pressed: list[int] = []  # an interrupt that comes while Python imports may be lost in its own callbacks

    def press(told: int, _frame: object) -> None:
        pressed.append(told)
        raise KeyboardInterrupt

    try:
        before = _signal.signal(_signal.SIGINT, press)
    except ValueError:  # not in the main thread: nobody presses anything there
        before = None
    try:
        from .commands import run

        return STOPPED if pressed else run(argv, pressed)
    except KeyboardInterrupt:
        return STOPPED
    finally:
        if before is not None:
            _signal.signal(_signal.SIGINT, before)


if __name__ == "__main__":
    raise SystemExit(main())
