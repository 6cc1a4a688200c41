"""Masses and forces at the moving point, torque at a shaft, and what gives under them."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import cos, most, pick, sin

GRAVITY = 9.80665  # m/s², standard gravity


@formula
def balanced_weight(weight_n: Real, counterweight_kg: Real) -> Real:
    """What a counterweight leaves of the weight along the movement, whichever way it pulls.

    Equation: |W − m_c·g|
    Units: N, kg → N
    Range: cord and pulley of the counterweight without friction
    Source: handbook — statics

    >>> round(balanced_weight(30.0, 2.0), 2)
    10.39
    """
    return abs(weight_n - counterweight_kg * GRAVITY)


@formula
def overrun(energy_j: Real, resists_n: Real, weight_n: Real) -> Real:
    """How far an axis runs on when the power goes.

    Equation: s = E/(F − W)
    Units: J, N (drag, detent and brake), N (weight along the movement, downhill) → mm
    Range: F > W; otherwise it does not stop by itself
    Source: handbook — work and energy

    >>> overrun(0.5, 12.0, 2.0)
    50.0
    """
    return pick(resists_n > weight_n, 1000 * energy_j / most(resists_n - weight_n, 1e-9), math.inf)


@formula
def guide_drag(mass_kg: Real, friction: Real, slope_rad: Real, drag_n: Real) -> Real:
    """Force that the guide takes to keep the carriage moving.

    Equation: F_g = µ·m·g·cos β + F_0
    Units: kg, –, rad, N → N
    Range: 0 ≤ β ≤ 90°; F_0 the drag of seals and wheel preload
    Source: handbook — Coulomb friction; values of µ are common practice

    >>> round(float(guide_drag(2.0, 0.02, 0.0, 1.5)), 4)
    1.8923
    """
    return friction * mass_kg * GRAVITY * cos(slope_rad) + drag_n


@formula
def slope_force(mass_kg: Real, slope_rad: Real) -> Real:
    """Part of the weight that pulls along the slope.

    Equation: F_w = m·g·sin β
    Units: kg, rad → N
    Range: 0 ≤ β ≤ 90°
    Source: handbook — statics

    >>> round(float(slope_force(2.0, math.pi / 2)), 3)
    19.613
    """
    return mass_kg * GRAVITY * sin(slope_rad)


@formula
def inertia_force(mass_kg: Real, acceleration_mm_s2: Real) -> Real:
    """Force that accelerates the moving mass.

    Equation: F_a = m·a
    Units: kg, mm/s² → N
    Range: any
    Source: handbook — Newton's second law

    >>> inertia_force(2.0, 1500.0)
    3.0
    """
    return mass_kg * acceleration_mm_s2 / 1000


@formula
def force_sum(inertia_n: Real, drag_n: Real, weight_n: Real, push_n: Real) -> Real:
    """Force at the carriage in one phase of the move.

    Equation: F = F_a + F_g + F_w + F_p
    Units: N, N, N, N → N
    Range: uphill, the worse direction
    Source: handbook — sum of forces along the travel

    >>> force_sum(3.0, 1.9, 0.0, 5.0)
    9.9
    """
    return inertia_n + drag_n + weight_n + push_n


@formula
def mass_of_inertia(inertia_gcm2: Real, radians_per_mm: Real) -> Real:
    """Inertia of a turning part as a mass at the carriage.

    Equation: m = J·λ²
    Units: g·cm², rad/mm → kg
    Range: λ of the shaft that carries J
    Source: handbook — equal kinetic energy

    >>> round(mass_of_inertia(54.0, 0.157), 4)
    0.1331
    """
    return inertia_gcm2 * 1e-7 * (radians_per_mm * 1000) ** 2


@formula
def disc_inertia(diameter_mm: Real, width_mm: Real, density_g_cm3: Real) -> Real:
    """Inertia of a plain disc about its axis; an estimate for a pulley of that size.

    Equation: J = π·ρ·b·d⁴/32
    Units: mm, mm, g/cm³ → g·cm²
    Range: solid disc; a pulley with holes has less
    Source: handbook — solid cylinder; estimate for a real pulley

    >>> round(disc_inertia(20.0, 10.0, 2.7), 3)
    4.241
    """
    return math.pi * density_g_cm3 * (width_mm / 10) * (diameter_mm / 10) ** 4 / 32


@formula
def torque_at_shaft(
    force_n: Real,
    radians_per_mm: Real,
    efficiency: Real,
    efficiency_back: Real,
    inertia_mass_kg: Real,
    acceleration_mm_s2: Real,
) -> Real:
    """Torque at the motor for a force at the carriage, with the rotor's own share outside the losses.

    Equation: T = F/(λη) + m_J·a/λ while the load is driven; F·η'/λ + m_J·a/λ while it drives (F < 0)
    Units: N, rad/mm, –, – (η' when driven backwards; below 0 it holds by itself), kg (J·λ² of the motor's
    shaft), mm/s² → N·m
    Range: 0 < η ≤ 1, η' ≤ η
    Source: handbook — balance of power through the chain

    >>> round(float(torque_at_shaft(20.0, 0.157, 0.9, 0.9, 0.13, 2000.0)), 4)
    0.1432
    """
    through = most(
        force_n / efficiency, force_n * efficiency_back
    )  # the first while driven, the second while it drives
    return (through + inertia_force(inertia_mass_kg, acceleration_mm_s2)) / radians_per_mm / 1000


@formula
def lost_motion(friction_n: Real, stiffness_n_mm: Real, backlash_mm: Real) -> Real:
    """What friction and backlash swallow when the direction of travel changes.

    Equation: Δ = 2·F_g/k + backlash
    Units: N, N/mm, mm → mm
    Range: k at the softest place of the travel
    Source: handbook — a spring loaded by ± the friction force

    >>> lost_motion(4.0, 80.0, 0.02)
    0.12000000000000001
    """
    return 2 * friction_n / stiffness_n_mm + backlash_mm


@formula
def give(force_n: Real, stiffness_n_mm: Real) -> Real:
    """How far the carriage gives under a force.

    Equation: x = F/k
    Units: N, N/mm → mm
    Range: small against the runs' length
    Source: handbook — Hooke's law

    >>> give(10.0, 40.0)
    0.25
    """
    return force_n / stiffness_n_mm


@formula
def back_drive_capacity(
    detent_nm: Real, radians_per_mm: Real, efficiency: Real, drag_n: Real, motors: Real
) -> Real:
    """Force along the travel that the unpowered axis resists.

    Equation: F = n·T_detent·λ/η' + F_g
    Units: N·m (of one motor), rad/mm, – (driven backwards), N (of the guide, once), motors → N
    Range: standing still; losses help here; what the guide's drag holds may creep when it is shaken
    Source: handbook — balance of power with the load driving

    >>> round(back_drive_capacity(0.02, 0.157, 0.9, 2.0, 1), 3), round(back_drive_capacity(0.02, 0.157, 0.9, 2.0, 2), 3)
    (5.489, 8.978)
    """
    return motors * detent_nm * 1000 * radians_per_mm / efficiency + drag_n
