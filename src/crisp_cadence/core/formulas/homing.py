"""Finding zero: how fast a switch may be approached, how well zero comes again, what happens without
power.
"""

from __future__ import annotations

from ..ledger.formula import Real, formula
from ..ledger.many import sqrt


@formula
def approach_speed(room_mm: Real, acceleration_mm_s2: Real) -> Real:
    """Largest speed from which the carriage still stops in the room behind its switch.

    Equation: v = √(2·a·s)
    Units: mm, mm/s² → mm/s
    Range: s ≥ 0, a > 0; the controller stops it at its own acceleration
    Source: handbook — kinematics of constant deceleration

    >>> approach_speed(10.0, 2000.0)
    200.0
    """
    return sqrt(2 * acceleration_mm_s2 * room_mm)


@formula
def seen_late(speed_mm_s: Real, period_ms: Real) -> Real:
    """Way that is made at most before the controller looks at its switch again.

    Equation: s = v·t
    Units: mm/s, ms → mm
    Range: t the time between two looks
    Source: handbook — definition of speed

    >>> seen_late(20.0, 1.0)
    0.02
    """
    return speed_mm_s * period_ms / 1000


@formula
def zero_comes_again(switch_mm: Real, late_mm: Real) -> Real:
    """How far zero may lie from where it was the time before.

    Equation: e = √(r² + s²)
    Units: mm, mm → mm
    Range: the switch and the moment of looking vary by themselves
    Source: handbook — sum of independent errors

    >>> zero_comes_again(0.03, 0.04)
    0.05
    """
    return sqrt(switch_mm**2 + late_mm**2)


@formula
def coasting(mass_kg: Real, speed_mm_s: Real, drag_n: Real) -> Real:
    """Way that what moves still makes when power fails at speed, level, its motor free.

    Equation: s = m·v²/(2·F)
    Units: kg, mm/s, N → mm
    Range: F > 0, the drag that stops it
    Source: handbook — energy against friction

    >>> coasting(2.0, 400.0, 4.0)
    40.0
    """
    return mass_kg * speed_mm_s**2 / (2000 * drag_n)
