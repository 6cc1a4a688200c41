"""V-belts: grooves, tension ratio and pull."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..ledger.formula import Real, formula
from .belt import wrap_angle


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

    >>> round(float(wedge_ratio(0.3, np.pi, 38.0)), 2)
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


@formula
def smallest_wrap(centre_mm: float, a_mm: float, b_mm: float) -> float:
    """Wrap on the smaller of two pulleys given by diameter.

    Equation: θ = π − 2·asin((D − d)/2C)
    Units: mm, mm, mm → rad
    Range: C > (D − d)/2
    Source: handbook — open belt drive, any machine-design text

    >>> round(float(np.degrees(smallest_wrap(300.0, 60.0, 120.0))), 2)
    168.52
    """
    small, large = sorted((a_mm / 2, b_mm / 2))
    return float(wrap_angle(centre_mm, small, large))
