"""One option of a search, its data as columns, and how many a search can hold."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..fitting.parts import Fitted
from ..ledger.errors import EntryError, problem
from ..ledger.record import record

FloatArray = NDArray[np.float64]
Index = NDArray[np.intp]
MOST_MOTORS = 20_000  # what a search may hold of each kind
MOST_BELTS = 20_000
MOST_LOOPS = 400_000


@record
class Choice:
    """One option of one kind: its name, what it sets in the design, what is still to pay for it, whether it
    is owned, and how many of its prices are typical ones.
    """

    name: str
    changes: Mapping[str, Any]
    spend: float
    owned: bool
    typical: int


def bounded(count: int, what: str, most: int) -> None:
    """Refuses a drawer of more parts of one kind than a search can hold in memory."""
    if count > most:
        raise EntryError(
            [
                problem(
                    "drawer",
                    f"holds too many {what} to try at once",
                    value=count,
                    limit=most,
                    remedy="Search only what you own; or open the parts drawer, take out what you "
                    "will never use, or take back the file that brought it.",
                )
            ]
        )


def columns(rows: list[dict[str, float]]) -> dict[str, FloatArray]:
    """Rows as columns, of what the first of them has."""
    return {k: np.array([r[k] for r in rows], dtype=np.float64) for k in rows[0]} if rows else {}


def beyond_least(pulleys: Sequence[Fitted], sizes: Sequence[float]) -> list[float]:
    """What a pulley costs on each size of shaft beyond the cheapest of them; nothing where there is no
    pulley.
    """
    least = min((p.spend for p in pulleys), default=0.0)
    return [p.spend - least for p in pulleys] or [0.0] * len(sizes)
