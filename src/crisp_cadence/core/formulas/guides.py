"""What carries the moving part: rail, wheels and stand."""

from __future__ import annotations

import math

import numpy as np

from ..ledger.formula import Real, formula
from .dynamics import GRAVITY

# By how a rail stands: a load in the middle between two supports, in the middle of one of two spans, and at
# the end of what reaches beyond the last support.
RAIL_HELD = {"at both ends": 48.0, "several supports": 66.7, "overhung": 3.0}


@formula
def rail_sag(
    force_n: Real, span_mm: Real, youngs_gpa: Real, second_moment_mm4: Real, held: Real = 48.0
) -> Real:
    """Sag of a rail under the carriage, where it is softest.

    Equation: δ = F·L³/(c·E·I), c = 48 between two supports, 66.7 in one of two spans, 3 overhung
    Units: N, mm, GPa, mm⁴, – → mm
    Range: simply supported, or held square where it is overhung; the rail's own weight left out
    Source: handbook — beam tables, any strength-of-materials text

    >>> round(rail_sag(20.0, 1000.0, 69.0, 7000.0), 3), round(rail_sag(20.0, 200.0, 69.0, 7000.0, 3.0), 3)
    (0.863, 0.11)
    """
    return force_n * span_mm**3 / (held * youngs_gpa * 1000 * second_moment_mm4)


@formula
def rail_frequency(sag_mm: Real) -> Real:
    """Frequency at which a carriage bounces on a rail that sags under it.

    Equation: f = (1/2π)·√(g/δ)
    Units: mm → Hz
    Range: the rail's own mass small against the carriage's
    Source: handbook — one mass on a spring, static deflection form, any vibration text

    >>> round(float(rail_frequency(0.863)), 2)
    16.97
    """
    return np.sqrt(GRAVITY / (sag_mm / 1000)) / (2 * math.pi)


@formula
def wheel_lift(moment_nmm: Real, wheels: Real, base_mm: Real) -> Real:
    """Force by which a moment lifts a wheel off its rail.

    Equation: F = M/(b·n/2)
    Units: N·mm, –, mm (between the wheel pairs) → N
    Range: wheels on both sides of the rail, each with half of them; weight left out, which presses only the
    upper ones
    Source: handbook — statics of a carriage on four wheels

    >>> round(wheel_lift(1000.0, 4, 60.0), 3)
    8.333
    """
    return moment_nmm / (base_mm * wheels / 2)


@formula
def wheel_load(mass_kg: Real, moment_nmm: Real, wheels: Real, base_mm: Real, preload_n: Real) -> Real:
    """Largest load on one wheel of a carriage.

    Equation: F = m·g/n + M/(b·n/2) + F_0
    Units: kg, N·mm (of mass and belt about the rail), –, mm (between the wheel pairs), N → N
    Range: wheels in two rows; M the moment that tries to turn the carriage in the plane of the wheels
    Source: handbook — statics of a carriage on four wheels

    >>> round(wheel_load(2.0, 1000.0, 4, 60.0, 5.0), 2)
    18.24
    """
    return mass_kg * GRAVITY / wheels + moment_nmm / (base_mm * wheels / 2) + preload_n


@formula
def tipping_ratio(stand_kg: Real, half_foot_mm: Real, load_kg: Real, beyond_mm: Real) -> Real:
    """What keeps a stand upright over what tips it, with the carriage at the end of its travel.

    Equation: n = m_stand·a/(m·x)
    Units: kg, mm (half of the foot), kg, mm (load beyond the foot's edge) → –
    Range: x > 0; below 1 it falls
    Source: handbook — moments about the foot's edge, statics

    >>> tipping_ratio(10.0, 150.0, 2.0, 300.0)
    2.5
    """
    return stand_kg * half_foot_mm / (load_kg * beyond_mm)


@formula
def preload_drag(friction: Real, preload_n: Real, wheels: Real) -> Real:
    """Drag that the preload of a carriage's wheels adds while they roll.

    Equation: F = µ_r·n·P
    Units: –, N (each wheel), – → N
    Range: all wheels preloaded alike; seals and dirt are not in it
    Source: handbook — rolling friction in proportion to the load

    >>> preload_drag(0.02, 5.0, 4.0)
    0.4
    """
    return friction * preload_n * wheels
