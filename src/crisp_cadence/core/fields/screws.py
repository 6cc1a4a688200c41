"""Screw threads by their nominal diameter, metric and inch: name, coarse pitch, and what tables say of a
size.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from ..ledger.record import record


@record
class Thread:
    """A screw thread by its nominal diameter: name, coarse pitch in mm, and the standard of both."""

    name: str
    pitch_mm: float
    standard: str


_METRIC = {2: 0.4, 2.5: 0.45, 3: 0.5, 4: 0.7, 5: 0.8, 6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 16: 2.0}
# By number or inch: nominal diameter in inch, and threads for an inch.
_INCH = {
    "#4": (0.112, 40), "#6": (0.138, 32), "#8": (0.164, 32), "#10": (0.190, 24), "1/4": (0.25, 20),
    "5/16": (0.3125, 18), "3/8": (0.375, 16), "1/2": (0.5, 13),
}  # fmt: skip
COARSE: dict[float, Thread] = {
    **{float(d): Thread(f"M{d:g}", pitch, "ISO 261 coarse") for d, pitch in _METRIC.items()},
    **{d * 25.4: Thread(f"{name}-{n}", 25.4 / n, "ASME B1.1 coarse") for name, (d, n) in _INCH.items()},
}
ALIKE_MM = 0.03  # a diameter that was rounded is still that thread's
V = TypeVar("V")


def of_size(table: Mapping[float, V], diameter_mm: float) -> V | None:
    """What a table of thread diameters says of a screw, metric or inch; None where it has none of that size.

    >>> of_size(COARSE, 6.35).name, of_size(COARSE, 7.94).name, of_size(COARSE, 7.0)
    ('1/4-20', '5/16-18', None)
    """
    if diameter_mm in table:
        return table[diameter_mm]
    near = min(table, key=lambda d: abs(d - diameter_mm))
    return table[near] if abs(near - diameter_mm) <= ALIKE_MM else None


def screw_name(diameter_mm: float) -> str:
    """What a screw of a diameter is called.

    >>> screw_name(5.0), screw_name(6.35), screw_name(7.0)
    ('M5', '1/4-20', 'M7')
    """
    found = of_size(COARSE, diameter_mm)
    return f"M{diameter_mm:g}" if found is None else found.name
