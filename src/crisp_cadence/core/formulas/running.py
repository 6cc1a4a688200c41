"""How a belt leaves its line, and how an eccentric pulley swings its tension."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import atan2


@formula
def line_angle(offset_mm: Real, span_mm: Real) -> Real:
    """Angle at which a belt runs from one part's line to the next one's.

    Equation: γ = atan(Δh/l)
    Units: mm, mm → °
    Range: l > 0; parallel offset alone, tilt of the parts comes on top
    Source: handbook — timing belt alignment, offset over span

    >>> round(line_angle(1.0, 200.0), 3)
    0.286
    """
    return atan2(offset_mm, span_mm) * (180 / math.pi)


@formula
def axle_stiffness(youngs_gpa: Real, diameter_mm: Real, reach_mm: Real) -> Real:
    """Stiffness of a round shaft that sticks out of its bearing and is pulled sideways at its end.

    Equation: k = 3·E·I/l³, I = π·d⁴/64
    Units: GPa, mm, mm → N/mm
    Range: slender, held square at its front bearing; what it bends behind that bearing comes on top
    Source: handbook — cantilever with end load, any strength-of-materials text

    >>> round(axle_stiffness(205.0, 5.0, 15.0), 1)
    5590.5
    """
    return 3 * youngs_gpa * 1000 * math.pi * diameter_mm**4 / 64 / reach_mm**3


@formula
def axle_tilt(force_n: Real, youngs_gpa: Real, diameter_mm: Real, reach_mm: Real) -> Real:
    """Tilt of an axle held at one end, at the place of the belt.

    Equation: φ = F·l²/(2·E·I), I = π·d⁴/64
    Units: N, GPa, mm, mm → °
    Range: small angles, an axle that is fixed where it leaves its seat
    Source: handbook — cantilever with a force at its end, any strength-of-materials text

    >>> round(axle_tilt(100.0, 205.0, 5.0, 15.0), 4)
    0.1025
    """
    moment = math.pi * diameter_mm**4 / 64
    return force_n * reach_mm**2 / (2 * youngs_gpa * 1000 * moment) * 180 / math.pi


@formula
def runout_ripple(runout_mm: Real, run_1_mm: Real, run_2_mm: Real) -> Real:
    """Ripple at the carriage from a drive pulley that is bored off centre.

    Equation: δ = e·|L2 − L1|/(L1 + L2), once for every turn of the pulley
    Units: mm, mm, mm → mm
    Range: clamped loop, rigid mounts
    Source: handbook — statics of two springs pulled alike at one end

    >>> runout_ripple(0.05, 100.0, 900.0)
    0.04
    """
    return runout_mm * abs(run_2_mm - run_1_mm) / (run_1_mm + run_2_mm)
