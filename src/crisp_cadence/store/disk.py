"""The few steps by which files are put in place of one another: each is on the disk before the next one
begins.

A step is one call of the system. Whatever stops the program between two of them finds the folder in a state
that the next start knows (`tests/store/test_stops.py` stops at each in turn).
"""

from __future__ import annotations

import os
import shutil
from contextlib import suppress
from pathlib import Path


def sync(path: Path) -> None:
    """What was written to a file, or what stands in a folder, is on the disk."""
    held = os.open(path, os.O_RDONLY)
    try:
        os.fsync(held)
    finally:
        os.close(held)


def replace(new: Path, place: Path) -> None:
    """Put a file in another's place, at one stroke."""
    os.replace(new, place)
    sync(place.parent)


def link(path: Path, other: Path) -> None:
    """Give a file a second name; where the disk knows no links, a copy under it."""
    try:
        os.link(path, other)
    except FileExistsError:
        if not os.path.samefile(path, other):
            raise
    except PermissionError:
        shutil.copy2(path, other)
        sync(other)
    sync(other.parent)


def unlink(path: Path) -> None:
    """Take a name away, if it is there."""
    with suppress(FileNotFoundError):
        os.unlink(path)
        sync(path.parent)


def living(process: int) -> bool:
    """Whether a process still runs, as far as can be told."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
