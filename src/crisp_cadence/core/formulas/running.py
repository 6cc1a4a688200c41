"""How a belt leaves its line, and how an eccentric pulley swings its tension."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import atan2, exp, most, sin


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
def bending_bears(stress_mpa: Real, diameter_mm: Real, reach_mm: Real) -> Real:
    """Pull sideways that a turning shaft bears for good.

    Equation: F = σ·π·d³/(32·l)
    Units: MPa, mm, mm → N
    Range: round shaft held square at its bearing, pulled at l beyond it; σ what it endures under bending that
    turns round, notches counted in
    Source: handbook — bending of a round bar, any strength-of-materials text

    >>> round(bending_bears(180.0, 5.0, 22.0), 1)
    100.4
    """
    return stress_mpa * math.pi * diameter_mm**3 / (32 * reach_mm)


@formula
def chordal_ripple(radius_mm: Real, teeth: Real) -> Real:
    """How far a belt that lies on a pulley as a chain of chords runs before and behind a round one's.

    Equation: δ = r·(π/z − sin(π/z))
    Units: mm (pitch radius), – → mm
    Range: the most that it can be, straight from tooth to tooth; a belt bends between its teeth and keeps
    part of it. Once for every tooth
    Source: handbook — polygon effect of a chain on its wheel, any machine-design text

    >>> round(float(chordal_ripple(6.366, 20.0)), 5), round(float(chordal_ripple(9.549, 12.0)), 5)
    (0.00411, 0.02846)
    """
    return radius_mm * (math.pi / teeth - sin(math.pi / teeth))


@formula
def wrap_holds(tension_n: Real, friction: Real, wrap_rad: Real) -> Real:
    """Difference of its runs up to which friction alone keeps a belt's teeth where they lie in a pulley.

    Equation: ΔT = 2·T·(e^(µα) − 1)/(e^(µα) + 1)
    Units: N (of either run at rest), –, rad → N
    Range: both runs change alike; beyond it the teeth go over to their other flank when the load turns round
    Source: handbook — Euler–Eytelwein, any machine-design text

    >>> round(float(wrap_holds(20.0, 0.3, math.pi)), 2)
    17.57
    """
    grown = exp(friction * wrap_rad)
    return 2 * tension_n * (grown - 1) / (grown + 1)


@formula
def life_at_limit(limit_n: Real, load_n: Real) -> Real:
    """Hours that nine of ten bearings reach, by the load that they may bear for 20 000 hours.

    Equation: L = 20 000·(F_limit/F)³
    Units: N, N → h
    Range: about the speed that the limit is stated for, clean grease; slower lasts longer
    Source: standard — ISO 281, life by the cube of the load; 20 000 h are what motor makers count on (from
    memory)

    >>> life_at_limit(30.0, 60.0)
    2500.0
    """
    return 20_000 * (limit_n / most(load_n, 1e-6)) ** 3


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
