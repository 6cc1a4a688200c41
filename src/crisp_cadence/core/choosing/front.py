"""The best front: rows that no other row beats."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
Places = NDArray[np.int32]
AT_ONCE = 300  # rows compared each with each
FAR = np.int16(32_000)
SLICE = 20_000  # rows taken in at a time


def best_front(ranked: NDArray[np.floating] | Places) -> NDArray[np.intp]:
    """Places of the rows that no other row beats or equals in every column while being better in one; lower
    is better.

    Equation: row r is on the front unless some q ≤ r everywhere and q < r somewhere; of equal rows the first
    stays
    Units: any → places
    Range: finite numbers
    Source: handbook — set of efficient points (Pareto)

    >>> best_front(np.array([[1.0, 2.0], [2.0, 1.0], [2.0, 2.0]])).tolist()
    [0, 1]
    """
    if not len(ranked):
        return np.empty(0, dtype=np.intp)
    # A row that another beats has a larger sum of its columns, each scaled to its spread: so the least sum is
    # on the front, what it beats is dropped, and the least sum of the rest is on the front too. A small rest
    # is settled at once.
    span = np.ptp(ranked, axis=0)
    rest = np.argsort(
        ((ranked - ranked.min(axis=0)) / np.where(span > 0, span, 1)).sum(axis=1), kind="stable"
    )
    rows = np.ascontiguousarray(ranked[rest].T)
    out: list[int] = []
    while len(rest) > AT_ONCE:
        out.append(int(rest[0]))
        stays = (rows < rows[:, :1]).any(axis=0)
        rest, rows = rest[stays], rows[:, stays]
    equals = _not_worse(rows, rows)
    beaten = (equals & ~(equals.T & (rest[:, None] >= rest))).any(axis=0)
    return np.array(sorted([*out, *rest[~beaten].tolist()]), dtype=np.intp)


def _not_worse(a: NDArray[np.generic], b: NDArray[np.generic]) -> NDArray[np.bool_]:
    """Which of `a` are as good as or better than which of `b` in everything; columns first, answer (a, b)."""
    found = a[0][:, None] <= b[0]
    for mine, theirs in zip(a[1:], b[1:], strict=True):
        found &= mine[:, None] <= theirs
    return np.asarray(found)


def in_steps(values: FloatArray, best: float, share: float, most: int) -> Places:
    """How many equal shares values lie from the best one, so that what no maker could tell apart counts as
    equal.

    Equation: n = round(|ln(x/best)|/ln(1 + share)), at most `most`
    Units: any → steps
    Range: x > 0; x beyond the best counts as the best only where it is the largest or the least there is
    Source: handbook — logarithmic (preferred number) steps

    >>> in_steps(np.array([1.0, 1.01, 1.05, 2.0, 1e9]), 1.0, 0.05, 100).tolist()
    [0, 0, 1, 14, 100]
    """
    with np.errstate(divide="ignore"):
        steps = np.abs(np.log(values / best)) / np.log1p(share)
    return np.asarray(np.rint(np.minimum(steps, most)), dtype=np.int32)


class Front:
    """The best front of everything seen so far, on a lattice of whole places, with where each row came from.

    All columns but the last span a table; it holds the least last place of any row that is as good in all of
    them, so that a row is known to be beaten by one look. Memory stays bounded whatever the space.
    """

    def __init__(self, sizes: tuple[int, ...], places: int) -> None:
        self.table = np.full(sizes, FAR, dtype=np.int16)
        self.ranked: Places = np.empty((0, len(sizes) + 1), dtype=np.int32)
        self.index = np.empty((0, places), dtype=np.intp)

    def not_beaten(self, ranked: Places) -> NDArray[np.intp]:
        """Places of the rows (columns first) that may come in: no row of the present front beats or equals
        them.
        """
        return np.flatnonzero(self.table[tuple(ranked[:-1])] > ranked[-1])

    def take(self, ranked: Places, index: NDArray[np.intp]) -> None:
        """Adds rows (columns first) and keeps the front."""
        for begin in range(0, ranked.shape[1], SLICE):  # what the first of them beat is not sorted any more
            self._take(ranked[:, begin : begin + SLICE], index[begin : begin + SLICE])

    def _take(self, ranked: Places, index: NDArray[np.intp]) -> None:
        new = self.not_beaten(ranked)
        if not new.size:
            return
        fresh = ranked[:, new]
        in_table = np.ravel_multi_index(tuple(fresh[:-1]), self.table.shape).astype(np.int64)
        _, firsts = np.unique(in_table * (1 + int(FAR)) + fresh[-1], return_index=True)
        rows = np.ascontiguousarray(fresh[:, firsts].T)
        own = best_front(rows)
        rows, places = rows[own], index[new[firsts[own]]]
        kept = ~_not_worse(rows.T, self.ranked.T).any(axis=0)
        self.ranked, self.index = (
            np.concatenate([self.ranked[kept], rows]),
            np.concatenate([self.index[kept], places]),
        )
        at = tuple(rows[:, :-1].T)
        np.minimum.at(self.table, at, rows[:, -1].astype(np.int16))
        for axis in range(
            self.table.ndim
        ):  # slice after slice: several times as fast as numpy's accumulate on a table like this
            slices = np.moveaxis(self.table, axis, 0)
            for k in range(1, len(slices)):
                np.minimum(slices[k], slices[k - 1], out=slices[k])
