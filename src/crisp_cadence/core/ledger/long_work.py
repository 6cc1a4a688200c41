"""Work that takes a while: an iterator of shares of what is done (0 to 1), and its answer last."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TypeVar

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
