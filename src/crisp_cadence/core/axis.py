"""The axis as the maker sees it: travel left on the rail, forces at the carriage, steps and error, time of a
move.
"""

from __future__ import annotations

import math

import numpy as np

from .formula import Real, formula

GRAVITY = 9.80665  # m/s², standard gravity


@formula
def usable_travel(rail_mm: Real, carriage_mm: Real, near_mm: Real, far_mm: Real, overtravel_mm: Real) -> Real:
    """Travel that is left when carriage, ends and over-travel are taken off the rail.

    Equation: s = rail − carriage − near end − far end − 2·over-travel
    Units: mm, mm, mm, mm, mm → mm
    Range: positive when the carriage fits
    Source: common practice — travel budget of a rail

    >>> usable_travel(1000.0, 80.0, 20.0, 20.0, 10.0)
    860.0
    """
    return rail_mm - carriage_mm - near_mm - far_mm - 2 * overtravel_mm


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
    return friction * mass_kg * GRAVITY * np.cos(slope_rad) + drag_n


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
    return mass_kg * GRAVITY * np.sin(slope_rad)


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
def radians_per_mm(pitch_radius_mm: Real, ratio: Real) -> Real:
    """How far a shaft turns for one millimetre of carriage.

    Equation: λ = i/r
    Units: mm, – → rad/mm
    Range: r > 0; i the reduction between this shaft and the drive pulley
    Source: handbook — kinematics of a belt that does not slip

    >>> radians_per_mm(10.0, 5.0)
    0.5
    """
    return ratio / pitch_radius_mm


@formula
def shaft_speed(speed_mm_s: Real, radians_per_mm: Real) -> Real:
    """Speed of a shaft at a speed of the carriage.

    Equation: n = v·λ·60/2π
    Units: mm/s, rad/mm → rpm
    Range: v ≥ 0
    Source: handbook — kinematics

    >>> round(shaft_speed(400.0, 0.157), 1)
    599.7
    """
    return speed_mm_s * radians_per_mm * 30 / math.pi


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
    through = np.maximum(
        force_n / efficiency, force_n * efficiency_back
    )  # the first while driven, the second while it drives
    return (through + inertia_force(inertia_mass_kg, acceleration_mm_s2)) / radians_per_mm / 1000


@formula
def steps_per_mm(radians_per_mm: Real, steps_per_turn: Real, microsteps: Real) -> Real:
    """Microsteps that the controller sends for one millimetre.

    Equation: s = λ·N·n/2π
    Units: rad/mm, –, – → steps/mm
    Range: λ of the motor's shaft
    Source: handbook — kinematics; 20 teeth of 2 mm, 200 steps at 1/16 give 80 (common practice)

    >>> round(steps_per_mm(2 * math.pi / 40.0, 200, 16), 6)
    80.0
    """
    return radians_per_mm * steps_per_turn * microsteps / (2 * math.pi)


@formula
def calibrated_steps(steps_mm: Real, commanded_mm: Real, measured_mm: Real) -> Real:
    """Steps per millimetre that make the measured move equal the commanded one.

    Equation: s_new = s·commanded/measured
    Units: steps/mm, mm, mm → steps/mm
    Range: measured > 0, always approached from the same side
    Source: common practice — calibration by a long measured move; the rule of three

    >>> calibrated_steps(80.0, 500.0, 502.0)
    79.6812749003984
    """
    return steps_mm * commanded_mm / measured_mm


@formula
def command_step(steps_mm: Real) -> Real:
    """Smallest move that can be commanded.

    Equation: δ = 1/s
    Units: steps/mm → mm
    Range: s > 0
    Source: handbook — kinematics

    >>> command_step(80.0)
    0.0125
    """
    return 1 / steps_mm


@formula
def step_rate(speed_mm_s: Real, steps_mm: Real) -> Real:
    """Steps a second that the controller must send.

    Equation: f = v·s
    Units: mm/s, steps/mm → Hz
    Range: v ≥ 0
    Source: handbook — kinematics

    >>> step_rate(400.0, 80.0)
    32000.0
    """
    return speed_mm_s * steps_mm


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
def move_time(distance_mm: Real, speed_mm_s: Real, acceleration_mm_s2: Real) -> Real:
    """Time of one move from rest to rest.

    Equation: t = s/v + v/a; t = 2·√(s/a) when the move is too short to reach v
    Units: mm, mm/s, mm/s² → s
    Range: s, v, a > 0; trapezoid of speed
    Source: handbook — kinematics of constant acceleration

    >>> float(move_time(1000.0, 400.0, 2000.0)), float(move_time(20.0, 400.0, 2000.0))
    (2.7, 0.2)
    """
    long = distance_mm >= speed_mm_s**2 / acceleration_mm_s2
    return np.where(
        long,
        distance_mm / speed_mm_s + speed_mm_s / acceleration_mm_s2,
        2 * np.sqrt(distance_mm / acceleration_mm_s2),
    )


@formula
def stopping_distance(speed_mm_s: Real, acceleration_mm_s2: Real) -> Real:
    """Distance in which the carriage stops.

    Equation: s = v²/2a
    Units: mm/s, mm/s² → mm
    Range: a > 0
    Source: handbook — kinematics of constant deceleration

    >>> stopping_distance(400.0, 2000.0)
    40.0
    """
    return speed_mm_s**2 / (2 * acceleration_mm_s2)


@formula
def resonant_speed(frequency_hz: Real, steps_mm: Real, microsteps: Real) -> Real:
    """Carriage speed at which full steps come at the rate of the first mode; a speed to pass through, not to
    stay at.

    Equation: v = f·n/s
    Units: Hz, steps/mm, – → mm/s
    Range: slow moves
    Source: handbook — excitation by full steps, stepper motor texts

    >>> resonant_speed(40.0, 80.0, 16)
    8.0
    """
    return frequency_hz * microsteps / steps_mm


@formula
def back_drive_capacity(detent_nm: Real, radians_per_mm: Real, efficiency: Real, drag_n: Real) -> Real:
    """Force along the travel that the unpowered axis resists.

    Equation: F = T_detent·λ/η + F_g
    Units: N·m, rad/mm, –, N → N
    Range: standing still; losses help here
    Source: handbook — balance of power with the load driving

    >>> round(back_drive_capacity(0.02, 0.157, 0.9, 2.0), 3)
    5.489
    """
    return detent_nm * 1000 * radians_per_mm / efficiency + drag_n
