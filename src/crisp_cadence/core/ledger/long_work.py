"""Work that takes a while: an iterator of shares of what is done (0 to 1), and its answer last; its JSON."""

from __future__ import annotations

from collections.abc import Generator, Iterable, Iterator
from functools import cache
from typing import Any, TypeVar

from pydantic import TypeAdapter

Answer = TypeVar("Answer")


def answer_of(work: Iterator[float | Answer]) -> Answer:
    """The answer of long work, all of it at once.

    Equation: the last of its steps
    Units: – → –
    Range: work that ends with its answer
    Source: handbook — none needed, a loop

    >>> answer_of(iter([0.5, 1.0, "done"]))
    'done'
    """
    for step in work:
        if not isinstance(step, float):
            return step
    raise AssertionError("long work ends with its answer")


def scaled(work: Iterable[float], low: float, high: float) -> Generator[float, None, Any]:
    """Long work as a part of a longer one: its shares between two of the whole, and what it returns.

    Equation: low + share·(high − low)
    Units: – → –
    Range: 0 ≤ low < high ≤ 1
    Source: handbook — none needed, a loop

    >>> list(scaled([0.0, 0.5, 1.0], 0.2, 0.6))
    [0.2, 0.4, 0.6]
    """
    steps = iter(work)
    while True:
        try:
            share = next(steps)
        except StopIteration as done:
            return done.value
        yield low + (high - low) * share


@cache
def _adapter(kind: type) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def as_json(answer: Any) -> bytes:
    """An answer as JSON.

    Equation: each field by its name
    Units: – → –
    Range: records of numbers, words, lists and other records
    Source: handbook — RFC 8259

    >>> as_json(1.5)
    b'1.5'
    """
    kind: Any = type(answer)
    return _adapter(kind).dump_json(answer)
