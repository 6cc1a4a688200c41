"""Lead screws, ball screws and worms."""

from __future__ import annotations

import math

import numpy as np

from ..ledger.formula import Real, formula
from ..ledger.many import pick

# Eigenvalue βL of a shaft's first bending mode and Euler's end factor n, by how it is held: near end, far
# end.
FIXINGS: dict[str, tuple[float, float]] = {
    "fixed, free": (1.8751041, 0.25),
    "supported, supported": (math.pi, 1.0),
    "fixed, supported": (3.9266023, 2.0457),
    "fixed, fixed": (4.7300407, 4.0),
}


@formula
def lead_angle(lead_mm: Real, mean_diameter_mm: Real) -> Real:
    """Lead angle of a screw thread or of a worm.

    Equation: α = atan(ℓ/π·d_m)
    Units: mm, mm → rad
    Range: ℓ > 0
    Source: handbook — power screws, any machine-design text

    >>> round(math.degrees(float(lead_angle(8.0, 30.0))), 3)
    4.852
    """
    return np.arctan(lead_mm / (math.pi * mean_diameter_mm))


@formula
def trapezoidal_core(diameter_mm: Real, pitch_mm: Real) -> Real:
    """Core diameter of a trapezoidal screw.

    Equation: d_3 = d − p − 2·a_c, a_c 0.15 to 1.5 mm pitch, 0.25 to 5 mm, 0.5 to 12 mm, 1 above
    Units: mm, mm (the pitch, never the lead) → mm
    Range: metric trapezoidal threads
    Source: standard — ISO 2904, from memory

    >>> trapezoidal_core(8.0, 1.5), trapezoidal_core(10.0, 2.0), trapezoidal_core(36.0, 6.0)
    (6.2, 7.5, 29.0)
    """
    crest = pick(pitch_mm <= 1.5, 0.15, pick(pitch_mm <= 5, 0.25, pick(pitch_mm <= 12, 0.5, 1.0)))
    return diameter_mm - pitch_mm - 2 * crest


@formula
def thread_friction_angle(friction: Real, flank_deg: Real) -> Real:
    """Friction angle in a thread whose flanks lean.

    Equation: ρ = atan(µ/cos β)
    Units: –, ° (half of the thread angle) → rad
    Range: β 15° for trapezoidal, 14.5° for inch trapezoidal threads, 0 for square ones and balls
    Source: handbook — power screws, any machine-design text

    >>> round(math.degrees(float(thread_friction_angle(0.15, 15.0))), 3)
    8.827
    """
    return np.arctan(friction / np.cos(np.radians(flank_deg)))


@formula
def screw_efficiency(lead_angle_rad: Real, friction_angle_rad: Real) -> Real:
    """Efficiency of a screw or worm that drives its load.

    Equation: η = tan α/tan(α + ρ)
    Units: rad, rad → –
    Range: α + ρ < 90°
    Source: handbook — power screws, any machine-design text

    >>> round(float(screw_efficiency(0.0847, 0.1541)), 4)
    0.3488
    """
    return np.tan(lead_angle_rad) / np.tan(lead_angle_rad + friction_angle_rad)


@formula
def screw_back_efficiency(lead_angle_rad: Real, friction_angle_rad: Real) -> Real:
    """Efficiency of a screw or worm that its load drives; at 0 and below it holds by itself.

    Equation: η' = tan(α − ρ)/tan α
    Units: rad, rad → –
    Range: α > 0; shaking can start a screw that holds on paper
    Source: handbook — power screws, self-locking, any machine-design text

    >>> float(screw_back_efficiency(0.0847, 0.1541)) < 0
    True
    """
    return np.tan(lead_angle_rad - friction_angle_rad) / np.tan(lead_angle_rad)


@formula
def screw_torque(force_n: Real, lead_mm: Real, efficiency: Real) -> Real:
    """Torque that turns a screw against a force.

    Equation: T = F·ℓ/2π·η
    Units: N, mm, – → N·m
    Range: F ≥ 0
    Source: handbook — power screws, any machine-design text

    >>> round(screw_torque(1000.0, 5.0, 0.4), 4)
    1.9894
    """
    return force_n * lead_mm / (2 * math.pi * efficiency) / 1000


@formula
def whirl_speed(
    root_mm: Real, length_mm: Real, eigenvalue: Real, youngs_gpa: Real, density_g_cm3: Real
) -> Real:
    """Speed at which a turning screw begins to whip.

    Equation: n = 60/2π·(βL)²/L²·√(E·I/ρ·A), I/A = d²/16
    Units: mm, mm, –, GPa, g/cm³ → rpm
    Range: slender round shaft; run below 80 % of it
    Source: handbook — Euler–Bernoulli beam, first mode; any vibration text

    >>> round(whirl_speed(10.0, 500.0, math.pi, 205.0, 7.85))
    4816
    """
    radius_of_gyration = root_mm / 4 / 1000
    wave = np.sqrt(youngs_gpa * 1e9 / (density_g_cm3 * 1000)) * radius_of_gyration
    return eigenvalue**2 / (length_mm / 1000) ** 2 * wave * 30 / math.pi


@formula
def euler_load(root_mm: Real, length_mm: Real, end_factor: Real, youngs_gpa: Real) -> Real:
    """Force that buckles a screw in compression.

    Equation: F = n·π²·E·I/L², I = π·d⁴/64
    Units: mm, mm, –, GPa → N
    Range: slender; n 0.25, 1, 2.05 or 4 by the end fixings
    Source: handbook — Euler column, any strength-of-materials text

    >>> round(euler_load(10.0, 500.0, 1.0, 205.0))
    3973
    """
    return end_factor * math.pi**2 * youngs_gpa * 1000 * math.pi * root_mm**4 / 64 / length_mm**2


@formula
def nut_pressure(force_n: Real, diameter_mm: Real, pitch_mm: Real, length_mm: Real) -> Real:
    """Pressure on the flanks of a nut.

    Equation: p = F·P/(π·d_2·H_1·l), d_2 = d − P/2, H_1 = P/2
    Units: N, mm, mm (pitch, whatever the starts), mm → MPa
    Range: trapezoidal and square threads, the load spread over the whole nut
    Source: handbook — power screws, any machine-design text

    >>> round(nut_pressure(200.0, 8.0, 2.0, 12.0), 3)
    1.516
    """
    return force_n * pitch_mm / (math.pi * (diameter_mm - pitch_mm / 2) * pitch_mm / 2 * length_mm)


@formula
def bar_stiffness(youngs_gpa: Real, area_mm2: Real, length_mm: Real) -> Real:
    """Stiffness along a bar, a screw or a rope.

    Equation: k = E·A/L
    Units: GPa, mm², mm → N/mm
    Range: L > 0
    Source: handbook — Hooke's law

    >>> bar_stiffness(205.0, 78.5, 500.0)
    32185.0
    """
    return youngs_gpa * 1000 * area_mm2 / length_mm
