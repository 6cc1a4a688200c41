"""Stepped cones that one belt fits on every step."""

from __future__ import annotations

import math

from ..ledger.amounts import number, said
from ..ledger.formula import formula


def _open_length(centre_mm: float, small_mm: float, large_mm: float, lean_rad: float) -> float:
    """belt.open_belt_length for plain numbers: a cone is solved in some hundred tries."""
    return (
        2 * centre_mm * math.cos(lean_rad)
        + math.pi * (small_mm + large_mm)
        + 2 * lean_rad * (large_mm - small_mm)
    )


@formula
def cone_step(
    ratio: float, length_mm: float, centre_mm: float, least_mm: float, largest_mm: float = 400.0
) -> tuple[float, float]:
    """Driver and driven pitch diameters of a step so that one belt fits it at a centre distance.

    Equal sums of diameters alone would be wrong by the term φ(D − d). ValueError says why a step cannot be
    made.

    Equation: L(C, i·d/2, d/2) = L_belt solved for d, for a ratio i = D/d; L the open belt's length
    Units: – (driven over driver), mm, mm, mm, mm → mm (driver and driven)
    Range: least ≤ d, D ≤ largest
    Source: handbook — open belt drive, exact form, solved by bisection

    >>> [tuple(round(d, 3) for d in cone_step(i, 900.0, 300.0, 50.0)) for i in (1.0, 2.0)]
    [(95.493, 95.493), (62.96, 125.921)]
    """
    low, high = 1e-3, 2 * centre_mm / max(ratio, 1.0)
    for _ in range(60):
        middle = (low + high) / 2
        lean = (ratio - 1) * middle / 2 / centre_mm
        if (
            abs(lean) >= 1
            or _open_length(centre_mm, middle / 2, ratio * middle / 2, math.asin(lean)) > length_mm
        ):
            high = middle
        else:
            low = middle
    driver, driven = low, low * ratio
    if min(driver, driven) < least_mm:
        raise ValueError(
            f"a step of {ratio:.3g} : 1 would need a pulley of {said(min(driver, driven), 'mm', '.1f')}, "
            f"below the least of {said(least_mm, 'mm')}"
        )
    if max(driver, driven) > largest_mm:
        raise ValueError(
            f"a step of {ratio:.3g} : 1 would need a pulley of {said(max(driver, driven), 'mm', '.0f')}, "
            f"above {said(largest_mm, 'mm')}"
        )
    return driver, driven


@formula
def middle_pulley(
    distance_mm: float, first: tuple[float, float, float], second: tuple[float, float, float]
) -> tuple[float, float]:
    """Where a middle pulley stands that tensions two belts at once: (x, y) with the first shaft at 0 and the
    second at (distance, 0).

    `first` and `second` hold each belt's length and the diameters at the outer and at the middle shaft.
    ValueError where the belts cannot both be taut.

    Equation: x = (A² + a² − b²)/2A, y = √(a² − x²); a, b the centre distances of the two belts
    Units: mm, mm (length and two diameters), mm (length and two diameters) → mm (x, y)
    Range: |a − b| ≤ A ≤ a + b
    Source: handbook — intersection of two circles; centre distance from the exact open-belt length

    >>> x, y = middle_pulley(300.0, (800.0, 60.0, 120.0), (760.0, 100.0, 80.0))
    >>> from crisp_cadence.core.formulas.belt import open_belt_length as L
    >>> round(float(L(math.hypot(x, y), 30.0, 60.0)), 6), round(float(L(math.hypot(300 - x, y), 50.0, 40.0)), 6)
    (800.0, 760.0)
    """
    from .path import closed_belt_centre

    a = float(closed_belt_centre(first[0], first[1] / 2, first[2] / 2))
    b = float(closed_belt_centre(second[0], second[1] / 2, second[2] / 2))
    if not (math.isfinite(a) and math.isfinite(b)):
        raise ValueError("a belt is too short for its two pulleys")
    x = (distance_mm**2 + a**2 - b**2) / (2 * distance_mm)
    rest = a**2 - x**2
    if rest < 0:
        raise ValueError(
            f"the two belts reach {number(a, 'mm', '.0f')} and {said(b, 'mm', '.0f')}; shafts "
            f"{said(distance_mm, 'mm', '.0f')} apart leave no "
            f"place where both are taut"
        )
    return x, math.sqrt(rest)
