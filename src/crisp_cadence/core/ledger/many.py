"""One spelling for a number and for a column of them.

A column is a plain NumPy array. All columns of one evaluation have the same named dimensions in the same
order, of length 1 where they do not vary, so that every result is worked out once for what it depends on.
What Python decides by `if`, `max` or `or` goes through these functions: an array there raises, it never takes
one branch for all of its places.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from typing import Any, Literal

import numpy as np

from .formula import Real

nd = np.ndarray


def is_column(*values: Real) -> bool:
    """Whether any of the values is a column.

    >>> is_column(1.0, 2), is_column(1.0, np.array([1.0, 2.0]))
    (False, True)
    """
    for value in values:  # noqa: SIM110 - a generator takes three times as long
        if type(value) is nd:
            return True
    return False


def most(first: Real, second: Real = -math.inf, *more: Real) -> Real:
    """The largest, place by place. Two are by far the most that are asked for.

    >>> most(1.0, 3.0), most(2.0, np.array([1.0, 3.0])).tolist(), most(2.0, 1.0, 4.0)
    (3.0, [2.0, 3.0], 4.0)
    """
    if more:
        second = most(second, *more)
    if type(first) is nd or type(second) is nd:
        return np.maximum(first, second)
    return second if second > first else first


def least(first: Real, second: Real = math.inf, *more: Real) -> Real:
    """The smallest, place by place.

    >>> least(1.0, 3.0), least(2.0, np.array([1.0, 3.0])).tolist(), least(2.0, 1.0, 4.0)
    (1.0, [1.0, 2.0], 1.0)
    """
    if more:
        second = least(second, *more)
    if type(first) is nd or type(second) is nd:
        return np.minimum(first, second)
    return second if second < first else first


Fold = Literal["least", "most"]


def where(which: Fold, of: Real, value: Real) -> Real:
    """The value at the place along the travel where another one is smallest or largest.

    >>> where("most", np.array([1.0, 3.0, 2.0]), np.array([10.0, 20.0, 30.0]))
    20.0
    """
    if type(value) is not nd:
        return value
    if of.ndim == 1 and value.ndim == 1:
        return float(value[of.argmax() if which == "most" else of.argmin()])
    place = (np.argmax if which == "most" else np.argmin)(of, axis=-1, keepdims=True)
    shape = np.broadcast_shapes(place.shape[:-1], value.shape[:-1])
    every, places = (np.broadcast_to(a, (*shape, a.shape[-1])) for a in (value, place))
    return np.take_along_axis(every, places, axis=-1)[..., 0]


def taken(which: Fold, values: Iterable[Real]) -> Real:
    """The smallest or the largest of them, place by place.

    >>> taken("least", [2.0, 1.0]), taken("most", [2.0, 1.0])
    (1.0, 2.0)
    """
    return (least if which == "least" else most)(*values)


def pick(where: Real, one: Real, other: Real) -> Real:
    """`one` where the condition holds, else `other`; both are worked out, and what is not known is NaN in a
    column.

    >>> pick(True, 1.0, 2.0), pick(np.array([True, False]), 1.0, None).tolist()
    (1.0, [1.0, nan])
    """
    if type(where) is not nd:
        return one if where else other
    return np.where(where, *(math.nan if value is None else value for value in (one, other)))


def both(one: Real, other: Real) -> Real:
    """Whether both hold."""
    return np.logical_and(one, other) if is_column(one, other) else one and other


def along(value: Real) -> Real:
    """The value with one more axis behind its dimensions: places along the travel, points of a curve.

    >>> along(2.0), along(np.ones((3, 1))).shape
    (2.0, (3, 1, 1))
    """
    return value[..., None] if type(value) is nd else value


def at_most(values: Real) -> Real:
    """The largest along the last axis.

    >>> at_most(np.array([1.0, 3.0]))
    3.0
    """
    return _folded(np.maximum, values)


def at_least(values: Real) -> Real:
    """The smallest along the last axis.

    >>> at_least(np.array([[1.0, 3.0], [4.0, 2.0]])).tolist()
    [1.0, 2.0]
    """
    return _folded(np.minimum, values)


def _folded(worst: np.ufunc, values: Real) -> Real:
    found = worst.reduce(values, axis=-1) if type(values) is nd else values
    return found if type(found) is nd else float(found)


def sqrt(value: Real) -> Real:
    """The root; NaN where there is none.

    >>> sqrt(4.0), sqrt(-1.0), sqrt(np.array([4.0, 9.0])).tolist()
    (2.0, nan, [2.0, 3.0])
    """
    return np.sqrt(value) if type(value) is nd else math.sqrt(value) if value >= 0 else math.nan


def _arc(sine: float) -> float:
    return math.asin(sine) if -1 <= sine <= 1 else math.nan


def _either(one: Callable[[Any], float], many: Callable[..., Real]) -> Callable[[Real], Real]:
    def call(value: Real) -> Real:
        return many(value) if type(value) is nd else one(value)

    return call


def _either_of_two(
    one: Callable[[Any, Any], float], many: Callable[..., Real]
) -> Callable[[Real, Real], Real]:
    def call(a: Real, b: Real) -> Real:
        return many(a, b) if type(a) is nd or type(b) is nd else one(a, b)

    return call


# Of one number the plain function, which NumPy takes some ten times as long for; NaN where there is none.
exp = _either(math.exp, np.exp)
log = _either(math.log, np.log)
floor = _either(math.floor, np.floor)
hypot = _either_of_two(math.hypot, np.hypot)
atan2 = _either_of_two(math.atan2, np.arctan2)
asin = _either(_arc, np.arcsin)
sin = _either(math.sin, np.sin)
cos = _either(math.cos, np.cos)
ceil = _either(math.ceil, np.ceil)


def total(values: list[Real] | tuple[Real, ...]) -> Real:
    """The sum: without rounding between the terms for numbers, in order for columns."""
    return sum(values) if is_column(*values) else math.fsum(values)


def row(table: Mapping[Any, float | None], key: Any) -> Real:
    """A number out of a table by its key, or a column by a column of keys; NaN there where it has none.

    >>> row({"a": 1.0}, "b"), row({"a": 1.0, "b": 2.0}, np.array(["b", "a", "c"])).tolist()
    (None, [2.0, 1.0, nan])
    """
    if not isinstance(key, nd):
        return table.get(key)
    kinds, place = np.unique(key, return_inverse=True)
    found = [table.get(kind.item()) for kind in kinds]
    return np.array([math.nan if f is None else f for f in found])[place].reshape(key.shape)


def spoken(choice: Any) -> str:
    """A choice in words; a column of them has none of its own."""
    return "of each" if isinstance(choice, nd) else str(choice)
