"""One tree of errors for the whole program.

CrispError is what the program refuses, always with a reason a maker can act on. Of it are

- EntryError: something entered cannot be; carries one Problem for each field (HTTP 422, exit 2)
- NotFoundError: a machine, axis, revision or part that is not there (HTTP 404, exit 2)
- ConflictError: another window has saved meanwhile (HTTP 409)
- StoreError: the data file cannot be opened, read or written; `cause` says why (HTTP 503, exit 2)
- TooLargeError: a file or body past its limit (HTTP 413, exit 2)
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeAlias

from .amounts import number, shown_in

LONGEST_ECHO = 200  # of anything that was sent


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing that cannot be: which field, what it holds, what limits it, and what to do."""

    field: str
    message: str
    value: str
    limit: str
    unit: str
    remedy: str


class CrispError(Exception):
    """Base of every refusal."""


class EntryError(CrispError):
    """Input that cannot be; every problem found, not only the first."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(f"{p.field}: {p.message}" for p in problems[:3]))
        self.problems = problems


# What cannot be: where (yes or no, or a column of both), and what there is to say of it.
Refuse: TypeAlias = Callable[[Any, Callable[[], Problem]], None]


def at_once(where: Any, found: Callable[[], Problem]) -> None:
    """Refuses one design as soon as something cannot be."""
    if where:
        raise EntryError([found()])


class NotFoundError(CrispError):
    """What was asked for is not in the store."""


class ConflictError(CrispError):
    """The version the change was based on is no longer the newest."""

    def __init__(self, message: str, current_version: int) -> None:
        super().__init__(message)
        self.current_version = current_version


class StoreError(CrispError):
    """The data file cannot be opened, read or written; one cause, one sentence."""

    def __init__(self, cause: str, message: str) -> None:
        super().__init__(message)
        self.cause = cause


class TooLargeError(CrispError):
    """More than the program takes in at once."""


def problem(
    field: str, message: str, *, value: object = "", limit: object = "", unit: str = "", remedy: str
) -> Problem:
    """Build a Problem; values are shown short, whatever came in.

    >>> problem("aim.speed_mm_s", "is negative", value=-3.0, limit=0, unit="mm/s", remedy="Enter a speed.").value
    '-3'
    """
    return Problem(
        show(field, LONGEST_ECHO),
        show(message, 2 * LONGEST_ECHO),
        show(_in_words(value, unit)),
        show(_in_words(limit, unit), 600),
        shown_in(unit),
        remedy,
    )


def _in_words(value: object, unit: str) -> object:
    """A number in the reader's units."""
    if isinstance(value, (int, float)) and not isinstance(value, bool) and shown_in(unit) != unit:
        return number(value, unit)
    return value


def show(value: object, longest: int = 60) -> str:
    """Print a value briefly and safely: numbers without a tail of digits, long text cut, no control
    characters.

    >>> show(0.30000000000000004), show("x" * 100)[-1], show(True)
    ('0.3', '…', 'true')
    """
    if isinstance(value, bool):
        text = "true" if value else "false"
    elif isinstance(value, float):
        text = f"{value:.6g}"
    else:
        text = (
            str(value) if isinstance(value, (str, int)) and not isinstance(value, int) else repr(value)[:500]
        )
        if isinstance(value, int):
            text = str(value) if abs(value) < 10**15 else f"{float(str(value)[:15]):.6g}…"
    text = "".join(c if c.isprintable() and not 0xD800 <= ord(c) <= 0xDFFF else "�" for c in text)
    return text if len(text) <= longest else text[: longest - 1] + "…"
