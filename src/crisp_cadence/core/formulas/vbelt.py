"""V-belts: grooves, what a section carries, tension ratio and pull."""

from __future__ import annotations

import math

import numpy as np

from ..ledger.formula import Real, formula
from ..ledger.record import record
from .belt import wrap_angle


@record
class VSection:
    """One V-belt section (ISO 4183 for grooves; masses, least diameters and turning points from memory).

    `ea_n` follows from the constant of the section in the rule for pushing a V-belt aside (from memory; Z by
    its area), `bending_n_mm2` from its outline at half the stiffness of rubber with cords of 60 MPa
    (estimate, half to twice). `rated` are the four constants of `rated_power`, fitted to the table of
    `length_mm` (from memory, and checked against it in the tests).
    """

    name: str
    top_mm: float
    pitch_width_mm: float
    least_mm: float
    turning_mm: float
    line_mass_g_m: float
    speed_limit_m_s: float
    length_mm: float
    ea_n: float
    bending_n_mm2: float
    rated: tuple[float, float, float, float]


SECTIONS: dict[str, VSection] = {
    "Z": VSection(
        "Z", 10.0, 8.5, 50.0, 80.0, 60.0, 25.0, 780.0, 32_000.0, 5_400.0, (3.971, 0.13596, 8.493, 0.9225)
    ),
    "A": VSection(
        "A", 13.0, 11.0, 75.0, 118.0, 110.0, 25.0, 1750.0, 55_000.0, 16_600.0, (16.035, 1.0289, 9.978, 4.237)
    ),
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
def rated_power(small_mm: Real, rpm: Real, k1: Real, k2: Real, k3: Real, k4: Real) -> Real:
    """Power that one V-belt carries on a small pulley at half a turn of wrap and the length of its table.

    Equation: P = x·(k1 − k3·x² − k4·lg x) − k2·n/1000, x = d·n/10⁶
    Units: mm, rpm, – (k1 to k4) → kW
    Range: least pulley and above, up to 25 m/s; below nothing it is nothing; without the allowance for a
    ratio, which adds at most a tenth
    Source: standard — form of ISO 5292; constants fitted to the tables for Z and A, which are from memory
    (A within 1.3 %, Z within 0.05 kW); other tables of the trade give a third more on A

    >>> round(float(rated_power(50.0, 1450.0, *SECTIONS["Z"].rated)), 2)
    0.16
    """
    x = small_mm * rpm / 1e6
    found = x * (k1 - k3 * x**2 - k4 * np.log10(np.maximum(x, 1e-9))) - k2 * rpm / 1000
    return np.maximum(found, 0.0)


@formula
def wrap_factor(wrap_rad: Real) -> Real:
    """What is left of a V-belt's rating at less than half a turn of wrap.

    Equation: K_α = 1.25·(1 − 5^(−θ/π))
    Units: rad → –
    Range: 0 < θ ≤ π
    Source: standard — ISO 5292 and DIN 2218 (from memory); the same as a tension ratio of 5^(θ/π)

    >>> round(float(wrap_factor(np.pi)), 9), round(float(wrap_factor(np.radians(120.0))), 2)
    (1.0, 0.82)
    """
    return 1.25 * (1 - 5.0 ** (-wrap_rad / math.pi))


@formula
def length_factor(length_mm: Real, table_length_mm: Real) -> Real:
    """A longer V-belt bends less often, and carries more.

    Equation: K_L = (L/L_0)^0.2
    Units: mm (pitch length), mm (length of the table) → –
    Range: half to twice the length of the table
    Source: estimate — follows the length factors of ISO 5292 for Z and A within 2 % (both from memory)

    >>> round(float(length_factor(1250.0, 1750.0)), 2)
    0.93
    """
    return (length_mm / table_length_mm) ** 0.2


@formula
def wedge_ratio(friction: Real, wrap_rad: Real, groove_deg: Real) -> Real:
    """Largest ratio of the effective tensions of a V-belt.

    Equation: (T1 − Tc)/(T2 − Tc) = e^(µθ/sin(α/2))
    Units: –, rad, ° → –
    Range: belt about to slip; capped for a belt that lasts
    Source: handbook — Euler–Eytelwein with wedge action, any machine-design text

    >>> round(float(wedge_ratio(0.3, np.pi, 38.0)), 2)
    18.08
    """
    return np.exp(friction * wrap_rad / np.sin(np.radians(groove_deg) / 2))


@formula
def lasting_ratio(wedge: Real, cap: Real, wrap_rad: Real) -> Real:
    """Tension ratio that a V-belt is sized on.

    Equation: R = min(e^(µθ/sin(α/2)), R_cap^(θ/π))
    Units: –, – (at half a turn), rad → –
    Range: R > 1
    Source: handbook — near 5 at half a turn for a belt that lasts (from memory)

    >>> float(lasting_ratio(18.08, 5.0, math.pi))
    5.0
    """
    return np.minimum(wedge, cap ** (wrap_rad / math.pi))


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
def tight_tension(pull_n: Real, ratio: Real, centrifugal_n: Real) -> Real:
    """Tension of the tight span of a V-belt that carries a pull.

    Equation: T1 = F·R/(R − 1) + T_c
    Units: N, –, N → N
    Range: R > 1; the slack span has F less
    Source: handbook — any machine-design text

    >>> tight_tension(50.0, 5.0, 6.0)
    68.5
    """
    return pull_n * ratio / (ratio - 1) + centrifugal_n


@formula
def resting_tension(tight_n: Real, pull_n: Real) -> Real:
    """Tension to set at rest, from both spans running.

    Equation: T_0 = (T1 + T2)/2 = T1 − F/2
    Units: N, N → N
    Range: elastic belt; the sum of both spans stays the same
    Source: handbook — any machine-design text

    >>> resting_tension(68.5, 50.0)
    43.5
    """
    return tight_n - pull_n / 2


@formula
def pull_on_shaft(tight_n: Real, pull_n: Real, centre_mm: Real, one_mm: Real, other_mm: Real) -> Real:
    """Pull of a running V-belt on either of its shafts, near enough along the line of centres.

    Equation: P = √((T1 + T2)²·cos²β + (T1 − T2)²·sin²β), sin β = |D − d|/2C
    Units: N, N, mm, mm, mm → N
    Range: open belt on two pulleys given by diameter; centrifugal tension pulls on no shaft, and is left in
    for the sake of a start
    Source: handbook — vector sum of two spans, any statics text

    >>> round(float(pull_on_shaft(68.5, 50.0, 300.0, 100.0, 100.0)), 9)
    87.0
    """
    lean = (other_mm - one_mm) / 2 / centre_mm
    return np.sqrt((2 * tight_n - pull_n) ** 2 * (1 - lean**2) + pull_n**2 * lean**2)


@formula
def pull_of_two(one_n: Real, other_n: Real, between_rad: Real) -> Real:
    """Pull of two belts on the shaft between them.

    Equation: P = √(P1² + P2² + 2·P1·P2·cos γ)
    Units: N, N, rad (between the two pulls) → N
    Range: each pulls along its line of centres
    Source: handbook — vector sum, any statics text

    >>> round(float(pull_of_two(30.0, 40.0, math.pi / 2)), 9)
    50.0
    """
    return np.sqrt(np.maximum(one_n**2 + other_n**2 + 2 * one_n * other_n * np.cos(between_rad), 0.0))


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


@formula
def thread_torque(stress_mpa: Real, thread_mm: Real, pitch_mm: Real) -> Real:
    """Torque that the core of a threaded shaft bears.

    Equation: M = τ·π·(d − 1.2269·p)³/16
    Units: MPa, mm, mm → N·m
    Range: right to the thread's end; τ what the steel bears there
    Source: standard — core of a metric thread, ISO 724 (from memory); torsion of a round bar, any
    strength-of-materials text

    >>> round(thread_torque(35.0, 12.0, 1.75), 2)
    6.57
    """
    return stress_mpa * math.pi * (thread_mm - 1.2269 * pitch_mm) ** 3 / 16 / 1000


@formula
def unbalance(bore_off_mm: Real, rpm: Real) -> Real:
    """Speed of a turning pulley's centre of mass whose bore is off its rim's centre.

    Equation: e·ω
    Units: mm, rpm → mm/s
    Range: a pulley that is otherwise true; grade G 6.3 allows 6.3 mm/s
    Source: standard — grades of ISO 21940-11 (from memory: G 6.3 for pulleys and machine parts, G 16 for
    rough ones)

    >>> round(unbalance(0.05, 1200.0), 2)
    6.28
    """
    return bore_off_mm * rpm * (2 * math.pi / 60)


@formula
def bending_stress(force_n: Real, reach_mm: Real, diameter_mm: Real) -> Real:
    """Stress of a round shaft that a force bends beyond its bearing.

    Equation: σ = 32·F·l/(π·d³)
    Units: N, mm, mm → MPa
    Range: solid round shaft
    Source: handbook — cantilever beam, any strength-of-materials text

    >>> round(bending_stress(100.0, 50.0, 20.0), 3)
    6.366
    """
    return 32 * force_n * reach_mm / (math.pi * diameter_mm**3)
