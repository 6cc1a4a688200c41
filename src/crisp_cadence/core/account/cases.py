"""Load cases side by side: the heads, directions and settings of one axis, and what is taken over all of
them.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property

from ..ledger.formula import Real
from ..ledger.many import Fold, taken
from ..ledger.quantity import Ledger, bare


class Cases:
    """Every case of an axis, walked through late: only what is taken over them is worked out."""

    def __init__(self, walk: Callable[[Cases], Sequence[Ledger]]) -> None:
        self._walk = walk

    @cached_property
    def books(self) -> Sequence[Ledger]:
        """The ledger of each case."""
        return self._walk(self)

    def taken(self, which: Fold, key: str) -> Real:
        """The smallest or largest of a result over all cases; None where one of them lacks it."""
        values = [bare(book.results[key]) for book in self.books]
        if any(value is None for value in values):
            return None
        return taken(which, values)
