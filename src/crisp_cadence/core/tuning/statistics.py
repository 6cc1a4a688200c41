"""Repeated readings: their mean, how far it may be off, and straight lines through them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

SURE = 0.95  # that the true value lies within


@dataclass(frozen=True, slots=True)
class Mean:
    """Mean of repeated readings; `within` how far the true mean is off at most, to 95 %, None for one
    reading.
    """

    mean: float
    within: float | None


def mean_of(values: Sequence[float]) -> Mean:
    """Student's interval of a mean: t·s/√n.

    >>> m = mean_of([9.9, 10.0, 10.1])
    >>> round(m.mean, 3), round(m.within, 4)
    (10.0, 0.2484)
    """
    n = len(values)
    mean = float(np.mean(values))
    if n < 2:
        return Mean(mean, None)
    return Mean(mean, _t(n - 1) * float(np.std(values, ddof=1)) / n**0.5)


@dataclass(frozen=True, slots=True)
class Line:
    """Least squares: each coefficient, how far it is off at most to 95 % (None where no reading is left
    over), and the standard deviation of what is left.
    """

    found: tuple[float, ...]
    within: tuple[float | None, ...]
    left: tuple[float, ...]
    deviation: float | None


def fitted(columns: NDArray[np.float64], y: NDArray[np.float64]) -> Line:
    """Ordinary least squares y = X·b, b = (XᵀX)⁻¹Xᵀy with Student's intervals; the columns must be
    independent.

    >>> line = fitted(np.array([[1.0], [2.0], [3.0]]), np.array([2.0, 4.1, 5.9]))
    >>> round(line.found[0], 4)
    1.9929
    """
    found, *_ = np.linalg.lstsq(columns, y, rcond=None)
    left = y - columns @ found
    free = len(y) - columns.shape[1]
    if free < 1:
        return Line(tuple(map(float, found)), (None,) * columns.shape[1], tuple(map(float, left)), None)
    variance = float(left @ left) / free
    each = np.sqrt(np.diag(np.linalg.inv(columns.T @ columns)) * variance) * _t(free)
    return Line(tuple(map(float, found)), tuple(map(float, each)), tuple(map(float, left)), variance**0.5)


def _t(free: int) -> float:
    from scipy.stats import t  # 0.4 s to import: only where it is asked for

    return float(t.ppf((1 + SURE) / 2, free))
