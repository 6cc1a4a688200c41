"""V-belts and stepped cones: wedge friction with centrifugal tension, and steps that share one belt."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .belt import wrap_angle
from .formula import Real, formula


@dataclass(frozen=True, slots=True)
class VSection:
    """One V-belt section (ISO 4183 for grooves; masses and least diameters from memory)."""

    name: str
    top_mm: float
    pitch_width_mm: float
    least_mm: float
    line_mass_g_m: float
    speed_limit_m_s: float


SECTIONS: dict[str, VSection] = {
    "Z": VSection("Z", 10.0, 8.5, 50.0, 60.0, 25.0),
    "A": VSection("A", 13.0, 11.0, 75.0, 110.0, 25.0),
}


@formula
def groove_angle(pitch_diameter_mm: Real, turning_point_mm: Real) -> Real:
    """Groove angle of a V-belt pulley.

    Equation: α = 34° up to the turning point, 38° above it
    Units: mm, mm → °
    Range: turning point 80 mm for section Z, 118 mm for A
    Source: standard — ISO 4183 (turning points from memory)

    >>> float(groove_angle(63.0, 80.0)), float(groove_angle(100.0, 80.0))
    (34.0, 38.0)
    """
    return np.where(np.asarray(pitch_diameter_mm) <= turning_point_mm, 34.0, 38.0)


@formula
def wedge_ratio(friction: Real, wrap_rad: Real, groove_deg: Real) -> Real:
    """Largest ratio of the effective tensions of a V-belt.

    Equation: (T1 − Tc)/(T2 − Tc) = e^(µθ/sin(α/2))
    Units: –, rad, ° → –
    Range: belt about to slip; capped near 5 for a belt that lasts (from memory)
    Source: handbook — Euler–Eytelwein with wedge action, any machine-design text

    >>> round(float(wedge_ratio(0.3, math.pi, 38.0)), 2)
    18.08
    """
    return np.exp(friction * wrap_rad / np.sin(np.radians(groove_deg) / 2))


@formula
def centrifugal_tension(line_mass_g_m: Real, speed_m_s: Real) -> Real:
    """Tension that a running belt's own mass takes up.

    Equation: T_c = µ·v²
    Units: g/m, m/s → N
    Range: v the belt's speed
    Source: handbook — any machine-design text

    >>> centrifugal_tension(60.0, 20.0)
    24.0
    """
    return line_mass_g_m / 1000 * speed_m_s**2


@formula
def tight_tension(power_w: Real, speed_m_s: Real, ratio: Real, centrifugal_n: Real) -> Real:
    """Tension of the tight span of a V-belt that carries a power.

    Equation: T1 = (P/v)·R/(R − 1) + T_c
    Units: W, m/s, –, N → N
    Range: R > 1, v > 0
    Source: handbook — any machine-design text

    >>> tight_tension(500.0, 10.0, 5.0, 6.0)
    68.5
    """
    return power_w / speed_m_s * ratio / (ratio - 1) + centrifugal_n


@formula
def resting_tension(tight_n: Real, slack_n: Real) -> Real:
    """Tension to set at rest, from both spans running.

    Equation: T_0 = (T1 + T2)/2
    Units: N, N → N
    Range: elastic belt; the sum of both spans stays the same
    Source: handbook — any machine-design text

    >>> resting_tension(68.5, 18.5)
    43.5
    """
    return (tight_n + slack_n) / 2


def _open_length(centre_mm: float, small_mm: float, large_mm: float, lean_rad: float) -> float:
    """belt.open_belt_length for plain numbers: a cone is solved in some hundred tries."""
    return (
        2 * centre_mm * math.cos(lean_rad)
        + math.pi * (small_mm + large_mm)
        + 2 * lean_rad * (large_mm - small_mm)
    )


@formula
def cone_steps(
    ratios: list[float], length_mm: float, centre_mm: float, least_mm: float, largest_mm: float = 400.0
) -> list[tuple[float, float]]:
    """Driver and driven pitch diameters of each step so that one belt fits every step at one centre distance.

    Equal sums of diameters alone would be wrong by the term φ(D − d). ValueError names a step that cannot be
    made.

    Equation: L(C, i·d/2, d/2) = L_belt solved for d, for each ratio i = D/d; L the open belt's length
    Units: – (driven over driver), mm, mm, mm, mm → mm (driver and driven, for each step)
    Range: least ≤ d, D ≤ largest
    Source: handbook — open belt drive, exact form, solved by bisection

    >>> [(round(a, 3), round(b, 3)) for a, b in cone_steps([1.0, 2.0], 900.0, 300.0, 50.0)]
    [(95.493, 95.493), (62.96, 125.921)]
    """
    out = []
    for ratio in ratios:
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
                f"a step of {ratio:.3g} : 1 would need a pulley of {min(driver, driven):.1f} mm, "
                f"below the least of {least_mm:g} mm"
            )
        if max(driver, driven) > largest_mm:
            raise ValueError(
                f"a step of {ratio:.3g} : 1 would need a pulley of {max(driver, driven):.0f} mm, "
                f"above {largest_mm:g} mm"
            )
        out.append((driver, driven))
    return out


@formula
def middle_pulley(
    distance_mm: float, first: tuple[float, float, float], second: tuple[float, float, float]
) -> tuple[float, float]:
    """Where a middle pulley stands that tensions two belts at once: (x, y) with the first shaft at 0 and the
    second at (distance, 0).

    `first` and `second` hold each belt's length and the diameters at the outer and at the middle shaft.
    ValueError where the
    belts cannot both be taut.

    Equation: x = (A² + a² − b²)/2A, y = √(a² − x²); a, b the centre distances of the two belts
    Units: mm, mm (length and two diameters), mm (length and two diameters) → mm (x, y)
    Range: |a − b| ≤ A ≤ a + b
    Source: handbook — intersection of two circles; centre distance from the exact open-belt length

    >>> x, y = middle_pulley(300.0, (800.0, 60.0, 120.0), (760.0, 100.0, 80.0))
    >>> from crisp_cadence.core.belt import open_belt_length as L
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
            f"the two belts reach {a:.0f} and {b:.0f} mm; shafts {distance_mm:.0f} mm apart leave no "
            f"place where both are taut"
        )
    return x, math.sqrt(rest)


@formula
def smallest_wrap(centre_mm: float, a_mm: float, b_mm: float) -> float:
    """Wrap on the smaller of two pulleys given by diameter.

    Equation: θ = π − 2·asin((D − d)/2C)
    Units: mm, mm, mm → rad
    Range: C > (D − d)/2
    Source: handbook — open belt drive, any machine-design text

    >>> round(math.degrees(smallest_wrap(300.0, 60.0, 120.0)), 2)
    168.52
    """
    small, large = sorted((a_mm / 2, b_mm / 2))
    return float(wrap_angle(centre_mm, small, large))
