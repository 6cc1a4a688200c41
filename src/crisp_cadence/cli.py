"""The door of the command line: nothing is loaded before Ctrl+C is looked after, so that no traceback reaches
a terminal.
"""

from __future__ import annotations

import _signal  # type: ignore[import-not-found]  # built in: nothing is read for it
import os

STOPPED = 130  # as shells have it for a program ended by Ctrl+C


def stop(_told: int, _frame: object) -> None:
    """Ends at once. An exception would be lost in the callbacks of Python's imports, and taken for a fault of
    the input by a library that swallows it; whatever was acknowledged is on the disk, and what was not is
    undone, as after a kill.
    """
    os._exit(STOPPED)


def main(argv: list[str] | None = None) -> int:
    """Run a command; 0 when it went well, 2 when the input was refused, 130 when it was stopped."""
    try:
        before = _signal.signal(_signal.SIGINT, stop)
    except ValueError:  # not in the main thread: nobody presses anything there
        before = None
    try:
        from .commands import run

        return run(argv)
    finally:
        if before is not None:
            _signal.signal(_signal.SIGINT, before)


if __name__ == "__main__":
    raise SystemExit(main())
