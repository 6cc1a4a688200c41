"""Numbers within sentences, in the units that the reader has chosen.

A result is shown by whoever shows it; a sentence comes whole from the core. What a part is called ("belt,
6 mm wide") stays in the unit it is sold by.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Literal

from .units import DIMENSIONS, Dimension

System = Literal["metric", "imperial"]
FIGURES = 4

_system: ContextVar[System] = ContextVar("system", default="metric")
# Of each metric unit its dimension and what is shown instead; none where both systems show the same.
_OTHER: dict[str, tuple[Dimension, str]] = {
    unit: (d, to)
    for d in DIMENSIONS.values()
    if d.metric != d.imperial
    for unit, to in {d.base: d.imperial, **d.pairs}.items()
}


@contextmanager
def in_units(system: System) -> Iterator[None]:
    """Every sentence made within speaks in this system."""
    token = _system.set(system)
    try:
        yield
    finally:
        _system.reset(token)


def shown_in(unit: str) -> str:
    """The unit in which numbers of a unit are shown to the reader.

    >>> with in_units("imperial"):
    ...     shown_in("mm"), shown_in("rpm")
    ('in', 'rpm')
    """
    other = _OTHER.get(unit)
    return unit if other is None or _system.get() == "metric" else other[1]


def number(value: float, unit: str, form: str = "g") -> str:
    """A number as a sentence has it, without its unit: in metric in the form that the sentence gives, else in
    four figures.
    """
    to = shown_in(unit)
    if to == unit:
        return f"{value:{form}}"
    factors = _OTHER[unit][0].factors
    shown = value * factors[unit] / factors[to]
    if shown == 0:
        return "0"
    places = max(0, FIGURES - 1 - math.floor(math.log10(abs(shown))))
    text = f"{shown:.{places}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def said(value: float, unit: str, form: str = "g") -> str:
    """A number with its unit.

    >>> said(25.0, "mm", ".2f")
    '25.00 mm'
    >>> with in_units("imperial"):
    ...     said(25.0, "mm", ".2f"), said(10.0, "N"), said(1500.0, "rpm", ".0f")
    ('0.9843 in', '2.248 lbf', '1500 rpm')
    """
    return f"{number(value, unit, form)} {shown_in(unit)}"
