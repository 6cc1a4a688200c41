"""What holds a pulley on its shaft."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import most
from ..ledger.record import record

# Axial holding force of one cup-point set screw seated to full torque on steel, N (handbook, from memory); of
# inch
# sizes 160, 250, 385, 540, 1000, 1500 and 2000 lb.
SET_SCREW_HOLD_N: dict[float, float] = {
    3.0: 700.0, 4.0: 1700.0, 5.0: 2400.0, 6.0: 4400.0,
    2.845: 712.0, 3.505: 1112.0, 4.166: 1713.0, 4.826: 2402.0, 6.35: 4448.0, 7.938: 6672.0, 9.525: 8896.0,
}  # fmt: skip


@formula
def set_screw_grip(hold_n: Real, shaft_mm: Real, screws: Real, flat_factor: Real) -> Real:
    """Torque that set screws hold on a shaft.

    Equation: T = F_h·(d/2)·n·c
    Units: N, mm, –, – (2 on a flat, 0.3 on a round shaft) → N·m
    Range: screws seated to full torque on steel; half of it after a few reversals without threadlock
    Source: from memory — holding power of cup-point set screws, machinery handbooks; the flat's factor 2 is
    common practice, that of a round shaft an estimate (a quarter to a third)

    >>> round(set_screw_grip(700.0, 5.0, 1, 2), 3)
    3.5
    """
    return hold_n * shaft_mm / 2 * screws * flat_factor / 1000


@formula
def clamp_grip(screw_mm: Real, shaft_mm: Real, screws: Real, friction: Real) -> Real:
    """Torque that a split clamp hub holds.

    Equation: T = 2·µ·F·(d/2)·n, F about 120·d_s² (N, mm)
    Units: mm, mm, –, – → N·m
    Range: a slit that closes freely; screw tightened to about half its proof load (property class 8.8)
    Source: from memory — clamped hub with two contact lines; preload of common screws

    >>> round(clamp_grip(3.0, 5.0, 1, 0.15), 3)
    0.81
    """
    return 2 * friction * 120 * screw_mm**2 * shaft_mm / 2 * screws / 1000


@record
class HubStuff:
    """What a hub is made of: the pressure that a key may put on it (MPa), its modulus (GPa, creep in it) and
    Poisson's ratio, what it may be stretched to (MPa), how it grows with warmth (1/K), and what a set screw's
    thread in it keeps of its rating.
    """

    key_mpa: float
    youngs_gpa: float
    poisson: float
    hoop_mpa: float
    growth_k: float
    thread: float


# From memory, plastics estimated: PLA and PETG between 1.1 and 1.7 GPa after creep, threads that strip.
HUBS: dict[str, HubStuff] = {
    "aluminium": HubStuff(60.0, 69.0, 0.33, 200.0, 23.1e-6, 1.0),
    "steel": HubStuff(100.0, 205.0, 0.3, 250.0, 11.7e-6, 1.0),
    "printed": HubStuff(10.0, 1.1, 0.36, 15.0, 70e-6, 0.2),
    "printed, metal insert": HubStuff(60.0, 1.1, 0.36, 15.0, 70e-6, 0.7),
}
STEEL_GROWTH_K = 11.7e-6  # of the shaft


@formula
def key_grip(shaft_mm: Real, pressure_mpa: Real) -> Real:
    """Torque that a parallel key holds in a hub.

    Equation: T = p·(h/2)·l·(d/2), key height h = d/4, length l = 1.25·d
    Units: mm, MPa → N·m
    Range: usual key for the shaft, key as long as 1.25 shaft diameters
    Source: common practice — bearing pressure on a key, 60 MPa in aluminium, 100 in steel (from memory)

    >>> round(key_grip(14.0, 60.0), 2)
    12.86
    """
    return pressure_mpa * shaft_mm / 8 * 1.25 * shaft_mm * shaft_mm / 2 / 1000


@formula
def press_pressure(
    shaft_mm: Real, hub_mm: Real, interference_mm: Real, youngs_gpa: Real, poisson: Real
) -> Real:
    """Pressure between a hub and the steel shaft that it is pressed on.

    Equation: p = δ/d / [((D² + d²)/(D² − d²) + ν_h)/E_h + (1 − ν_s)/E_s]
    Units: mm, mm, mm, GPa (hub), – (hub) → MPa
    Range: solid steel shaft (205 GPa, ν 0.3), hub larger than the shaft, elastic, δ on the diameter
    Source: handbook — thick-walled cylinders (Lamé), press fits in any machine-design text

    >>> round(press_pressure(5.0, 13.0, 0.015, 69.0, 0.33), 1)
    108.2
    """
    wide, thin = hub_mm**2 + shaft_mm**2, hub_mm**2 - shaft_mm**2
    return interference_mm / shaft_mm / ((wide / thin + poisson) / (youngs_gpa * 1e3) + (1 - 0.3) / 205e3)


@formula
def press_hoop(shaft_mm: Real, hub_mm: Real, pressure_mpa: Real) -> Real:
    """Stress round the bore of a hub that is pressed on.

    Equation: σ = p·(D² + d²)/(D² − d²)
    Units: mm, mm, MPa → MPa
    Range: as press_pressure; keyways and screw holes left out
    Source: handbook — thick-walled cylinders (Lamé)

    >>> round(press_hoop(5.0, 13.0, 100.0), 1)
    134.7
    """
    return pressure_mpa * (hub_mm**2 + shaft_mm**2) / (hub_mm**2 - shaft_mm**2)


@formula
def interference_left(
    interference_mm: Real, shaft_mm: Real, hub_growth_k: Real, shaft_growth_k: Real, warmer_k: Real
) -> Real:
    """Interference of a press fit that warmth leaves.

    Equation: δ' = max(δ − d·(α_h − α_s)·ΔΘ, 0)
    Units: mm, mm, 1/K, 1/K, K → mm
    Range: hub and shaft as warm as each other
    Source: handbook — thermal expansion

    >>> round(interference_left(0.015, 5.0, 23.1e-6, 11.7e-6, 40.0), 5)
    0.01272
    """
    return most(interference_mm - shaft_mm * (hub_growth_k - shaft_growth_k) * warmer_k, 0.0)


@formula
def press_grip(pressure_mpa: Real, shaft_mm: Real, length_mm: Real, friction: Real) -> Real:
    """Torque that a hub pressed on a shaft holds.

    Equation: T = µ·p·π·d·l·d/2
    Units: MPa, mm, mm, – → N·m
    Range: pressed or shrunk on dry, the whole length in contact
    Source: handbook — thick-walled cylinders, press fits in any machine-design text

    >>> round(press_grip(108.1, 5.0, 7.0, 0.12), 2)
    3.57
    """
    return friction * pressure_mpa * math.pi * shaft_mm * length_mm * shaft_mm / 2 / 1000


@formula
def hub_wall(hub_mm: Real, bore_mm: Real) -> Real:
    """Wall that the bore leaves in the hub.

    Equation: w = (D_h − d)/2
    Units: mm, mm → mm
    Range: D_h > d
    Source: common practice — at least 2 mm, or the screw's diameter, for a tapped set screw

    >>> hub_wall(16.0, 5.0)
    5.5
    """
    return (hub_mm - bore_mm) / 2


@formula
def fit_gap(bore_mm: Real, shaft_mm: Real) -> Real:
    """Play between bore and shaft; below zero the bore must be opened.

    Equation: g = d_bore − d_shaft
    Units: mm, mm → mm
    Range: 0 to 0.05 mm slides on without wobble
    Source: common practice — sliding fit of small pulleys

    >>> fit_gap(6.35, 5.0)
    1.3499999999999996
    """
    return bore_mm - shaft_mm
