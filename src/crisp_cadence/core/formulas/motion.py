"""Travel, the time and room that a move takes, and how turning becomes travel."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import least, most, pick, sqrt


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
    return pick(
        long,
        distance_mm / speed_mm_s + speed_mm_s / acceleration_mm_s2,
        2 * sqrt(distance_mm / acceleration_mm_s2),
    )


@formula
def ramp_time(distance_mm: Real, speed_mm_s: Real, acceleration_mm_s2: Real) -> Real:
    """Time that a move from rest accelerates for.

    Equation: t_r = min(v/a, √(s/a))
    Units: mm, mm/s, mm/s² → s
    Range: s, v, a > 0; trapezoid of speed, or a triangle where the move is too short to reach v
    Source: handbook — kinematics of constant acceleration

    >>> float(ramp_time(1000.0, 400.0, 2000.0)), float(ramp_time(20.0, 400.0, 2000.0))
    (0.2, 0.1)
    """
    return least(speed_mm_s / acceleration_mm_s2, sqrt(distance_mm / acceleration_mm_s2))


@formula
def coast_time(distance_mm: Real, speed_mm_s: Real, acceleration_mm_s2: Real) -> Real:
    """Time that a move from rest to rest runs at its top speed.

    Equation: t_c = max(s/v − v/a, 0)
    Units: mm, mm/s, mm/s² → s
    Range: s, v, a > 0; trapezoid of speed
    Source: handbook — kinematics of constant acceleration

    >>> float(coast_time(1000.0, 400.0, 2000.0)), float(coast_time(20.0, 400.0, 2000.0))
    (2.3, 0.0)
    """
    return most(distance_mm / speed_mm_s - speed_mm_s / acceleration_mm_s2, 0.0)


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
